// The fiscal years, newest first; the years ahead that are estimated are set apart in grey.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Figure, Schemas, Unit } from "../../api/client";
import { FigureCell } from "../../components/FigureCell";
import { day, numberOf, plain } from "../../headless/format";
import type { Opened } from "../../headless/openedFigure";
import { tint } from "../../theme/theme";
import { Table } from "../../components/Table";

type Year = Schemas["YearRow"];

const COLUMNS: [string, keyof Year, Unit][] = [
  ["EPS", "eps", "per_share"],
  ["Revenue", "revenue", "money"],
  ["Net income", "net_income", "money"],
  ["Net margin %", "net_margin", "percent"],
  ["ROE %", "roe", "percent"],
];

export function YearTable({ page }: { page: Schemas["CompanyPage"] }) {
  if (page.years.length === 0) return null;
  return (
    <>
      <Table
        label="Fiscal years"
        head={[
          "Year",
          ...COLUMNS.map((c) => c[0]),
          ...page.year_columns.map((c) => (c.unit === "percent" ? `${c.label} %` : c.label)),
          "Price low–high",
          "P/E low–high",
        ]}
        rows={page.years.map((y) => ({
          key: String(y.fiscal_year),
          quiet: y.estimated,
          cells: [
            <span
              key="year"
              title={
                y.filed_on
                  ? `Year to ${day(y.period_end ?? y.filed_on)}, filed ${day(y.filed_on)}, ${y.source}`
                  : estimated(y)
              }
              className="strong"
            >
              {y.fiscal_year}
              {y.estimated && " est."}
              <Doubt sentences={page.doubts.filter((d) => d.fiscal_year === y.fiscal_year).map((d) => d.sentence)} />
            </span>,
            ...COLUMNS.map(([name, key, unit]) => (
              <FigureCell
                key={name + key}
                figure={y[key] as Schemas["Figure"]}
                unit={unit}
                bare
                opens={yearOf(page, y, key)}
              />
            )),
            ...page.year_columns.map(({ formula, unit }, i) => (
              <FigureCell
                key={formula}
                figure={y.of_kind[i] ?? { reason: "not estimated" }}
                unit={unit}
                bare
                opens={yearOf(page, y, formula)}
              />
            )),
            <Band key="price" low={y.price_low} high={y.price_high} digits={1} />,
            <Band key="pe" low={y.pe_low} high={y.pe_high} digits={1} />,
          ],
        }))}
      />
      <Typography variant="caption" color="textSecondary">
        Amounts per share are in {page.currency} on today's split basis, those of the whole company in {page.base} at
        today's rate. Prices are those of the fiscal year's twelve months.
      </Typography>
    </>
  );
}

/** A year's figure as a formula; estimates cannot be opened. */
function yearOf(page: Schemas["CompanyPage"], y: Year, key: string): Opened | undefined {
  const newest = page.years.find((other) => !other.estimated)?.fiscal_year;
  if (y.estimated || newest === undefined) return undefined;
  return { formula: `fy(${key}, ${newest - y.fiscal_year})`, symbol: page.company.symbol };
}

/** A mark where the year's data looks like a mistake, with what looks wrong. */
function Doubt({ sentences }: { sentences: string[] }) {
  if (sentences.length === 0) return null;
  const words = `Look again: ${sentences.join(" ")}`;
  return (
    <Box
      component="span"
      tabIndex={0}
      data-hint={words}
      role="note"
      aria-label={words}
      sx={{ color: tint("clay"), ml: 0.5 }}
    >
      doubt
    </Box>
  );
}

/** By how many a year to come is estimated, and their range. */
function estimated({ eps_low, eps_high, analysts }: Year): string {
  const by = analysts != null ? `${plain(analysts, 0)} analysts` : "analysts' estimates";
  const range =
    eps_low != null && eps_high != null ? `, earnings from ${plain(eps_low, 2)} to ${plain(eps_high, 2)}` : "";
  return `Mean of ${by}${range}`;
}

/** A low and a high as one cell. */
function Band({ low, high, digits }: { low: Figure; high: Figure; digits: number }) {
  const [from, to] = [numberOf(low), numberOf(high)];
  if (from === null || to === null) return <FigureCell figure={from === null ? low : high} />;
  const show = (x: number) => plain(x, x >= 100 ? 0 : digits);
  return (
    <span>
      {show(from)}–{show(to)}
    </span>
  );
}
