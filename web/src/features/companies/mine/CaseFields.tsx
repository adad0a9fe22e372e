// The fields of a case under the years they change, beside what the last five years did; below them what follows.
import Box from "@mui/material/Box";
import type { Schemas, Unit } from "../../../api/client";
import { NumberField } from "../../../components/NumberField";
import { compact, inUnit, price as money, signed } from "../../../headless/format";
import { tint } from "../../../theme/theme";

type Case = Schemas["Case"];
type Year = Schemas["ForecastYear"];

const FIELDS: [keyof Year, string][] = [
  ["revenue_growth", "Growth of revenue"],
  ["operating_margin", "Operating margin"],
  ["tax_rate", "Tax rate"],
  ["reinvestment", "Reinvested of added revenue"],
  ["share_change", "Change in shares"],
];

interface Props {
  shown: Schemas["CaseAnswer"];
  habits: Schemas["Habit"][];
  base: string;
  currency: string;
  set: (to: Case) => void;
}

export function CaseFields({ shown, habits, base, currency, set }: Props) {
  const { case: of, years } = shown;
  // A year typed over changes it and those after it that said the same.
  const change = (at: number, field: keyof Year, to: number | null) => {
    const before = of.years[at]?.[field];
    if (to === null || before === undefined) return;
    let follows = true;
    set({
      ...of,
      years: of.years.map((year, i) => {
        if (i < at) return year;
        follows = follows && year[field] === before;
        return i === at || follows ? { ...year, [field]: to } : year;
      }),
    });
  };
  const columns = { ...GRID, gridTemplateColumns: `168px 112px repeat(${years.length}, minmax(58px, 84px))` };
  return (
    <Box sx={{ overflowX: "auto", mt: 1 }}>
      <Box sx={columns}>
        <span />
        <span className="second right small">last five years</span>
        {years.map((y) => (
          <b key={y.fiscal_year} className="right">
            {y.fiscal_year}
          </b>
        ))}
        {FIELDS.map(([field, label], i) => (
          <Box key={field} sx={{ display: "contents" }}>
            <span>{label}</span>
            <Did habit={habits[i]} unit="percent" />
            {of.years.map((year, at) => (
              <NumberField
                key={years[at]?.fiscal_year ?? at}
                bare
                width="100%"
                label={`${label} ${years[at]?.fiscal_year ?? ""}`}
                of="percent"
                value={year[field]}
                set={(to) => change(at, field, to)}
              />
            ))}
          </Box>
        ))}
        <span>Exit multiple</span>
        <Did habit={habits[5]} unit="ratio" />
        <NumberField
          bare
          width="100%"
          label="Exit multiple"
          value={of.exit_multiple}
          set={(to) => to !== null && set({ ...of, exit_multiple: to })}
        />
        <Box sx={{ gridColumn: `4 / span ${Math.max(years.length - 1, 1)}` }} />
        <Row
          label={`Revenue, ${base}`}
          cells={years.map((y) => [compact(y.revenue), against(y.reported_revenue, y.revenue)])}
        />
        <Row label="Net income" cells={years.map((y) => [compact(y.net_income), ""])} />
        <Row label="Free cash flow" cells={years.map((y) => [compact(y.free_cash_flow), ""])} />
        <Row
          label={`Earnings a share, ${currency}`}
          cells={years.map((y) => [money(y.eps), against(y.reported_eps, y.eps)])}
          strong
        />
      </Box>
    </Box>
  );
}

const GRID = { display: "grid", columnGap: 1, rowGap: 0.5, alignItems: "center", fontSize: 13, minWidth: 0 };

/** What came, where that is reported: how far the forecast was off. */
const against = (reported: number | null | undefined, forecast: number): string =>
  reported == null || reported === 0
    ? ""
    : `came ${compact(reported)}, ${signed((forecast - reported) / Math.abs(reported))} off`;

/** Lowest, median and highest of the last five years. */
function Did({ habit, unit }: { habit: Schemas["Habit"] | undefined; unit: Unit }) {
  const written = (x: number | null | undefined) => (x == null ? "–" : inUnit(x, unit, true));
  return (
    <span className="second right small nowrap">
      {written(habit?.low)} – <b>{written(habit?.median)}</b> – {written(habit?.high)}
    </span>
  );
}

function Row({ label, cells, strong = false }: { label: string; cells: [string, string][]; strong?: boolean }) {
  return (
    <>
      <Box component="span" className={strong ? "strong" : "second"} sx={RULE}>
        {label}
      </Box>
      <Box component="span" sx={RULE} />
      {cells.map(([text, came], i) => (
        <Box
          key={i}
          component="span"
          className={`right ${strong ? "strong" : "second"}`}
          sx={{ ...RULE, pr: "34px" }}
          data-hint={came || undefined}
        >
          {text}
          {came && <span className="brass">*</span>}
        </Box>
      ))}
    </>
  );
}

const RULE = { borderTop: `1px solid ${tint("hairline")}`, py: 0.25, alignSelf: "stretch" };
