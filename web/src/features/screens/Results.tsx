// The companies left, as a table: sorting, columns, the own-history range and the value spread.
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import Link from "@mui/material/Link";
import type { SxProps } from "@mui/material/styles";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { Link as RouterLink } from "react-router";
import type { Figure, Measure, Schemas, Screen, ScreenAnswer, Unit } from "../../api/client";
import { FigureCell } from "../../components/FigureCell";
import { RangeLine } from "../../components/RangeLine";
import { Empty } from "../../components/States";
import { ValueSpread } from "../../components/ValueSpread";
import { VirtualTable } from "../../components/VirtualTable";
import { useAddress } from "../../headless/asOf";
import { unitHint } from "../../headless/format";
import type { Opened } from "../../headless/openedFigure";
import { useMarks } from "../../headless/marks";
import { sortBy } from "../../headless/screenState";
import { tint } from "../../theme/theme";
import { ColumnMenu } from "./ColumnMenu";

interface Props {
  screen: Screen;
  edit: (s: Screen) => void;
  answer: ScreenAnswer;
  measures: Measure[];
}

const isRange = (formula: string) => formula.startsWith("own_rank(");
const rangedMeasure = (formula: string) => /^own_rank\(\s*([a-z_0-9]+)/.exec(formula)?.[1];

/** Widths of the table's columns: mark, company, one a figure, spread. */
const template = (columns: Schemas["ColumnInfo"][]) =>
  `32px minmax(170px, 1.6fr) ${columns.map((c) => (isRange(c.formula) ? "112px" : c.unit === "per_share" ? "minmax(92px, 0.9fr)" : "minmax(64px, 0.7fr)")).join(" ")} 148px`;

export function Results({ screen, edit, answer, measures }: Props) {
  const { rows, survivors, columns } = answer;
  return (
    <>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, mb: 0.75 }}>
        <Typography variant="h2" aria-live="polite" data-testid="survivors">
          {survivors} {survivors === 1 ? "company" : "companies"} left
        </Typography>
        <Box sx={{ flex: 1 }} />
        <ColumnMenu
          columns={screen.columns ?? []}
          measures={measures}
          change={(next) => edit({ ...screen, columns: next })}
        />
      </Box>
      <VirtualTable
        label="Companies left"
        minWidth={560 + columns.length * 40}
        header={<Header screen={screen} edit={edit} columns={columns} measures={measures} />}
        rows={rows}
        draw={(row, placed) => <Row row={row} columns={columns} measures={measures} placed={placed} />}
        empty={
          <Empty title="Nothing is left">
            Loosen the criterion that costs most, or take a near miss back in below.
          </Empty>
        }
        sx={{ maxHeight: "calc(100vh - 330px)", minHeight: 160 }}
      />
      {survivors > rows.length && (
        <Typography variant="caption" sx={{ color: tint("second") }}>
          The first {rows.length} of {survivors} are shown; add a criterion to see the rest.
        </Typography>
      )}
    </>
  );
}

function Header({ screen, edit, columns, measures }: Omit<Props, "answer"> & { columns: Schemas["ColumnInfo"][] }) {
  const sort = screen.sort?.[0];
  return (
    <Box
      role="row"
      sx={{
        display: "grid",
        gridTemplateColumns: template(columns),
        alignItems: "end",
        position: "sticky",
        top: 0,
        zIndex: 1,
        bgcolor: "background.paper",
        borderBottom: `1px solid ${tint("hairline")}`,
        py: 0.5,
        px: 0.5,
        columnGap: 1,
      }}
    >
      <Box role="columnheader" aria-label="Marked" />
      <HeaderCell>Company</HeaderCell>
      {columns.map((c) => {
        const measure = measures.find((m) => m.id === c.formula.split("(")[0]);
        const sorted = sort?.formula === c.formula;
        const words = isRange(c.formula) ? c.label.replace(" in its own ", ", own ") : (measure?.label ?? c.formula);
        const hint = isRange(c.formula) ? "" : unitHint(c.unit);
        const meaning = c.error?.message ?? `${measure?.meaning ?? c.label} ${c.formula}`;
        return (
          <HeaderCell
            key={c.formula}
            sorted={sorted ? (sort.descending ? "descending" : "ascending") : undefined}
            right={!isRange(c.formula)}
          >
            <Tooltip title={meaning}>
              <Link
                component="button"
                underline="none"
                onClick={() => edit(sortBy(screen, c.formula, measure?.better !== "lower"))}
                sx={{ color: "inherit", font: "inherit", textAlign: "inherit" }}
              >
                {words} {hint && <span style={{ color: tint("faint"), fontWeight: 400 }}>{hint}</span>}
                {sorted && (sort.descending ? " ▾" : " ▴")}
              </Link>
            </Tooltip>
          </HeaderCell>
        );
      })}
      <HeaderCell>price and value</HeaderCell>
    </Box>
  );
}

function HeaderCell({
  children,
  right = false,
  sorted,
}: {
  children: ReactNode;
  right?: boolean;
  sorted?: "ascending" | "descending";
}) {
  return (
    <Box
      role="columnheader"
      aria-sort={sorted}
      sx={{
        textAlign: right ? "right" : "left",
        fontSize: 12,
        fontWeight: 500,
        lineHeight: 1.25,
        color: tint("second"),
      }}
    >
      {children}
    </Box>
  );
}

function Row({
  row,
  columns,
  measures,
  placed,
}: {
  row: Schemas["RowAnswer"];
  columns: Schemas["ColumnInfo"][];
  measures: Measure[];
  placed: SxProps;
}) {
  const { marked, toggle } = useMarks();
  const address = useAddress();
  const isMarked = marked.some((m) => m.symbol === row.symbol);
  return (
    <Box
      role="row"
      data-testid="survivor"
      sx={{
        ...(placed as object),
        display: "grid",
        gridTemplateColumns: template(columns),
        alignItems: "center",
        px: 0.5,
        columnGap: 1,
        borderBottom: `1px solid ${tint("hairline")}`,
        bgcolor: isMarked ? tint("brassWash") : undefined,
        fontSize: 13,
      }}
    >
      <Checkbox
        checked={isMarked}
        onChange={() => toggle(row)}
        sx={{ p: 0.25 }}
        slotProps={{ input: { "aria-label": `Mark ${row.name}` } }}
      />
      <Box role="cell" sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
        <Link
          component={RouterLink}
          to={address(`/companies/${row.symbol}`)}
          title={row.name}
          sx={{ color: "inherit", fontWeight: 600 }}
        >
          {row.name}
        </Link>{" "}
        <span style={{ color: tint("faint") }}>{row.symbol}</span>
      </Box>
      {row.values.map((figure, i) => {
        const column = columns[i];
        const range = row.ranges[i];
        const measure = measures.find((m) => m.id === rangedMeasure(column?.formula ?? ""));
        return (
          <Box
            role="cell"
            key={column?.formula ?? i}
            sx={{ textAlign: column && isRange(column.formula) ? "left" : "right" }}
          >
            {range ? (
              <RangeLine range={range} unit={measure?.unit} lowerIsBetter={measure?.better === "lower"} />
            ) : (
              <Plain
                figure={figure}
                unit={column?.unit}
                currency={row.currency}
                opens={{ formula: column?.formula ?? "", symbol: row.symbol }}
              />
            )}
          </Box>
        );
      })}
      <Box role="cell">
        {row.spread ? (
          <ValueSpread spread={row.spread} width={140} />
        ) : (
          <FigureCell figure={{ value: null, reason: "it cannot be valued" }} />
        )}
      </Box>
    </Box>
  );
}

function Plain({
  figure,
  unit,
  currency,
  opens,
}: {
  figure: Figure;
  unit: Unit | null | undefined;
  currency: string;
  opens: Opened;
}) {
  return (
    <>
      <FigureCell figure={figure} unit={unit} bare opens={opens} />
      {unit === "per_share" && <span style={{ color: tint("faint"), fontSize: 11 }}> {currency}</span>}
    </>
  );
}
