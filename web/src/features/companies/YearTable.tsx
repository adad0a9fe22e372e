// The fiscal years, newest first; the years ahead that are estimated are set apart in grey.
import Typography from "@mui/material/Typography";
import type { Schemas, Unit } from "../../api/client";
import { FigureCell } from "../../components/FigureCell";
import { day } from "../../headless/format";
import { tint } from "../../theme/theme";
import { Table } from "./Table";

type Year = Schemas["YearRow"];

const COLUMNS: [string, keyof Year, Unit][] = [
  ["EPS", "eps", "per_share"],
  ["Revenue", "revenue", "money"],
  ["Net income", "net_income", "money"],
  ["Net margin %", "net_margin", "percent"],
  ["ROE %", "roe", "percent"],
  ["FCF", "free_cash_flow", "money"],
  ["Debt / equity", "debt_to_equity", "ratio"],
  ["Current ratio", "current_ratio", "ratio"],
  ["Net buyback", "net_buyback", "money"],
  ["Price low", "price_low", "per_share"],
  ["high", "price_high", "per_share"],
  ["P/E low", "pe_low", "ratio"],
  ["high", "pe_high", "ratio"],
];

export function YearTable({ page }: { page: Schemas["CompanyPage"] }) {
  return (
    <>
      <Table
        label="Fiscal years"
        head={["Year", ...COLUMNS.map((c) => c[0])]}
        rows={page.years.map((y) => ({
          key: String(y.fiscal_year),
          quiet: y.estimated,
          cells: [
            <span
              key="year"
              title={
                y.filed_on
                  ? `Year to ${day(y.period_end ?? y.filed_on)}, filed ${day(y.filed_on)}, ${y.source}`
                  : "Mean of analysts' estimates"
              }
              style={{ fontWeight: 600 }}
            >
              {y.fiscal_year}
              {y.estimated && " est."}
            </span>,
            ...COLUMNS.map(([name, key, unit]) => (
              <FigureCell key={name + key} figure={y[key] as Schemas["Figure"]} unit={unit} bare />
            )),
          ],
        }))}
      />
      <Typography variant="caption" sx={{ color: tint("second") }}>
        A share in {page.currency} on today's split basis, whole-company amounts in {page.base} at today's rate. Prices
        are those of the fiscal year's twelve months.
      </Typography>
    </>
  );
}
