// Periods from left to right with today's rule between what is reported and what is expected; runs of acceleration rise as stairs.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { type ReactNode, useMemo } from "react";
import type { Schemas } from "../../../api/client";
import { FigureCell } from "../../../components/FigureCell";
import { Table } from "../../../components/Table";
import { figureAt } from "../../../headless/compact";
import { day, price, scaled, signed } from "../../../headless/format";
import { tint } from "../../../theme/theme";

type Quarters = Schemas["QuartersAnswer"];
type Range = Schemas["ExpectedRange"];

interface Props {
  quarters: Quarters;
  symbol: string;
  base: string;
  currency: string;
}

/** Rows whose expected column says something. */
const AHEAD: Record<string, (p: Schemas["ExpectedPeriod"], revenue: (x: number) => string) => ReactNode> = {
  eps: (p) => p.eps && <Estimated range={p.eps} written={price} />,
  eps_growth: (p) => grown(p.eps),
  revenue: (p, written) => p.revenue && <Estimated range={p.revenue} written={written} />,
  revenue_growth: (p) => grown(p.revenue),
};

const grown = (range: Range | null | undefined): ReactNode => (range?.growth == null ? "" : signed(range.growth));

export function Periods({ quarters: { reported, runs, ahead }, symbol, base, currency }: Props) {
  const known = reported.columns.length;
  const scale = useMemo(() => scaled(amounts(reported, ahead)), [reported, ahead]);
  const oldestFirst = Array.from({ length: known }, (_, i) => known - 1 - i);
  const cell = (row: Schemas["StatementRow"], i: number) => (
    <FigureCell
      figure={figureAt(row, i)}
      unit={row.unit}
      written={row.unit === "money" ? scale.written : row.unit === "percent" ? signed : undefined}
      opens={{ formula: row.formulas[i] ?? "", symbol }}
    />
  );
  return (
    <>
      <Table
        label="Reported and expected"
        rule={known > 0 ? known + 1 : undefined}
        head={[
          "",
          ...oldestFirst.map((i) => {
            const column = reported.columns[i];
            return (
              column && (
                <span key={i} title={`to ${day(column.period_end)}, filed ${day(column.filed_on)}`}>
                  {column.label}
                </span>
              )
            );
          }),
          ...ahead.map((p) => `${p.label} est.`),
        ]}
        rows={reported.rows.map((row) => ({
          key: row.id,
          quiet: !row.total,
          cells: [
            <span key="label" className={row.total ? "strong" : undefined}>
              {row.label}
            </span>,
            ...oldestFirst.map((i) => (
              <span key={i} className={row.total ? "strong" : undefined}>
                {cell(row, i)}
                {row.id === "eps_growth" && <Stair runs={runs} at={i} />}
              </span>
            )),
            ...ahead.map((p) => (
              <span key={p.label} className="second">
                {AHEAD[row.id]?.(p, scale.written)}
              </span>
            )),
          ],
        }))}
      />
      <Typography variant="caption" color="textSecondary">
        Earnings a share in {currency}, as adjusted; revenue in {scale.words && `${scale.words} of `}
        {base}. A stair marks three or more periods in a row in which growth rose, or fell.
      </Typography>
    </>
  );
}

const amounts = (reported: Quarters["reported"], ahead: Quarters["ahead"]): number[] => [
  ...reported.rows
    .filter((r) => r.unit === "money")
    .flatMap((r) => r.values)
    .filter((v) => typeof v === "number"),
  ...ahead.flatMap((p) => (p.revenue ? [p.revenue.mean] : [])),
];

/** The mean of the estimates, with their range as a hairline under it. */
function Estimated({
  range: { mean, low, high, analysts },
  written,
}: {
  range: Range;
  written: (x: number) => string;
}) {
  const spread = low != null && high != null ? `from ${written(low)} to ${written(high)}` : "";
  const by = analysts != null ? `by ${analysts} analysts` : "";
  const at = low != null && high != null && high > low ? (mean - low) / (high - low) : null;
  return (
    <span data-hint={[spread, by].filter(Boolean).join(", ")}>
      {written(mean)}
      {at !== null && (
        <Box
          component="span"
          sx={{ display: "block", position: "relative", height: 5, borderBottom: `1px solid ${tint("history")}` }}
        >
          <Box
            component="span"
            sx={{
              position: "absolute",
              left: `${at * 100}%`,
              bottom: -2,
              width: 2,
              height: 5,
              bgcolor: tint("second"),
            }}
          />
        </Box>
      )}
    </span>
  );
}

/** The step of a period in its run: higher from period to period while growth accelerates. */
function Stair({ runs, at }: { runs: number[]; at: number }) {
  const run = runs[at] ?? 0;
  if (run === 0) return null;
  const length = Math.abs(run);
  let newer = 0;
  while (runs[at - newer - 1] === run && newer + 1 < length) newer++;
  const step = run > 0 ? length - newer : newer + 1;
  const words = `${length} in a row ${run > 0 ? "faster" : "slower"} than the one before`;
  return (
    <Box component="span" title={words} sx={{ display: "block", height: 14, position: "relative" }}>
      <Box
        component="span"
        sx={{
          position: "absolute",
          bottom: 0,
          left: -7,
          right: -7,
          height: 2 + (12 * step) / length,
          borderTop: `2px solid ${tint(run > 0 ? "teal" : "clay")}`,
        }}
      />
    </Box>
  );
}
