// What is expected: reported periods against what had been estimated, those ahead set apart, revisions, and what targets were worth.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { parseAsBoolean, parseAsNumberLiteral, useQueryStates } from "nuqs";
import { useCallback } from "react";
import type { Schemas } from "../../../api/client";
import { useQuarters } from "../../../api/evidence";
import { apart } from "../../../charts/labels";
import { Chart, type ChartOption, timeAxis, tooltip } from "../../../charts/Chart";
import { Answered } from "../../../components/Answered";
import { FigureCell } from "../../../components/FigureCell";
import { among, WordChoice } from "../../../components/WordChoice";
import { useAsOf } from "../../../headless/asOf";
import { price, signed } from "../../../headless/format";
import type { Colours } from "../../../theme/colours";
import { Periods } from "./Periods";

const COUNTS = [4, 8, 12] as const;

const CHOSEN = {
  /** Years or quarters; as it reports when absent. */
  by_year: parseAsBoolean,
  periods: parseAsNumberLiteral(COUNTS).withDefault(8),
};

interface Props {
  symbol: string;
  /** The currency of amounts, and that of the price. */
  base: string;
  currency: string;
  price: number | null;
}

export function Expected(p: Props) {
  const [asOf] = useAsOf();
  const [{ by_year, periods: count }, choose] = useQueryStates(CHOSEN);
  const answer = useQuarters(p.symbol, { years: by_year, count, ...(asOf && { as_of: asOf }) });
  const years = by_year ?? answer.data?.years ?? false;
  const sort = (of: boolean) => (of ? "years" : "quarters");
  return (
    <>
      <Typography variant="sentence" component="div">
        The last{" "}
        <WordChoice
          means="How many"
          word={String(count)}
          items={among(COUNTS, count, String, (periods) => void choose({ periods }))}
        />{" "}
        <WordChoice
          means="Quarters or years"
          word={sort(years)}
          items={[false, true].map((of) => ({
            label: sort(of),
            chosen: of === years,
            run: () => void choose({ by_year: of }),
          }))}
        />{" "}
        against what was expected, and what is expected next
      </Typography>
      <Answered answer={answer} rows={8}>
        {(quarters) => (
          <>
            {quarters.reported.columns.length + quarters.ahead.length > 0 ? (
              <Periods quarters={quarters} {...p} />
            ) : (
              <Typography variant="body2" color="textSecondary" sx={{ my: 1 }}>
                {years
                  ? "No fiscal year is known on this date."
                  : "It reports no quarters by themselves: look at its years."}
              </Typography>
            )}
            <Beside quarters={quarters} {...p} />
          </>
        )}
      </Answered>
    </>
  );
}

/** Revisions of the last twelve months, and the target with its record. */
function Beside({ quarters: q, symbol, currency, price: now }: Props & { quarters: Schemas["QuartersAnswer"] }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "minmax(0, 3fr) minmax(0, 2fr)", gap: 3, mt: 1 }}>
      {q.revisions.length > 0 && <Revisions quarters={q} />}
      <Box>
        <Typography variant="h3">Price target</Typography>
        {q.target ? (
          <Typography variant="body2">
            <b>
              {price(q.target.mean)} {currency}
            </b>
            {now !== null && ` (${signed(q.target.mean / now - 1)})`}
            {q.target.low != null &&
              q.target.high != null &&
              `, from ${price(q.target.low)} to ${price(q.target.high)}`}
            {q.target.analysts != null && `, by ${q.target.analysts} analysts`}.
          </Typography>
        ) : (
          <Typography variant="body2" color="textSecondary">
            Nobody has named one within a year.
          </Typography>
        )}
        <Typography variant="body2" color="textSecondary" sx={{ mt: 0.5 }}>
          Targets here missed the price a year later by{" "}
          <FigureCell figure={q.target_error} unit="percent" opens={{ formula: "target_error(5)", symbol }} /> in the
          middle of five years.
        </Typography>
      </Box>
    </Box>
  );
}

/** How far the labels of both lines move so that none lies over the other. */
function labelOffsets(revisions: Schemas["RevisionPoint"][]): number[] {
  const all = revisions.flatMap((r) => [r.first, r.second]).filter((v) => v != null);
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const last = revisions.at(-1);
  return apart([last?.first, last?.second].map((v) => (v == null ? -99 : ((high - v) / (high - low || 1)) * PLOT)));
}

/** Pixels of the picture's height. */
const PLOT = 100;

function Revisions({ quarters: { revisions, revised_years } }: { quarters: Schemas["QuartersAnswer"] }) {
  const option = useCallback(
    (c: Colours): ChartOption => ({
      grid: { left: 44, right: 52, top: 8, bottom: 22 },
      tooltip: { ...tooltip(c), valueFormatter: (v) => (typeof v === "number" ? price(v) : "–") },
      xAxis: timeAxis(c),
      yAxis: {
        type: "value",
        scale: true,
        splitNumber: 3,
        axisLabel: { color: c.second, formatter: (v: number) => price(v), hideOverlap: true },
        splitLine: { lineStyle: { color: c.hairline, width: 0.6 } },
      },
      series: (["first", "second"] as const).flatMap((which, i) => {
        const moved = labelOffsets(revisions);
        const year = revised_years[i];
        if (year == null) return [];
        const colour = i === 0 ? c.ink : c.history;
        return [
          {
            type: "line" as const,
            name: `Earnings of ${year}`,
            step: "end" as const,
            showSymbol: false,
            lineStyle: { color: colour, width: 1.5 },
            itemStyle: { color: colour },
            endLabel: {
              show: true,
              formatter: String(year),
              color: i === 0 ? c.ink : c.second,
              offset: [0, moved[i] ?? 0],
            },
            data: revisions.map((r) => [r.date, r[which] ?? null]),
          },
        ];
      }),
    }),
    [revisions, revised_years],
  );
  return (
    <Box>
      <Typography variant="h3">What was expected of the next years, over twelve months</Typography>
      <Chart label="Revisions of expected earnings" height={130} option={option} />
    </Box>
  );
}
