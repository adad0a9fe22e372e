// A file with a column for each currency or maturity: what the values of each are.
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Typography from "@mui/material/Typography";
import type { CsvPreview, Mapping, Schemas } from "../../api/client";
import { Choice } from "./Choice";
import { CurrencyField } from "./CurrencyField";

type Wide = Schemas["Wide"];

const SERIES = ["government_10y_yield", "aaa_corporate_yield", "inflation"] as const;

const DATED = [
  ["day", "of its day"],
  ["month_end", "of its month, known at its end"],
  ["next_month_end", "of its month, known a month later"],
] as const;

const isCurrency = (text: string) => /^[A-Z]{3}$/.test(text);

interface Props {
  preview: CsvPreview;
  mapping: Mapping;
  wide: Wide;
  edit: (part: Partial<Mapping>) => void;
}

export function WideColumns({ preview, mapping, wide, edit }: Props) {
  const change = (part: Partial<Wide>) => edit({ wide: { ...wide, ...part } });
  const used = mapping.columns.map((c) => c.from);
  const headers = preview.headers.filter((h) => h && !used.includes(h));
  const of = (header: string) => wide.columns.find((c) => c.from === header)?.fixed[0]?.value ?? "";
  const column = (code: string) =>
    mapping.table === "fx" ? "quote" : isCurrency(code) ? "currency" : ("series" as const);
  const set = (from: string, code: string) => {
    const rest = wide.columns.filter((c) => c.from !== from);
    change({ columns: code ? [...rest, { from, fixed: [{ column: column(code), value: code }] }] : rest });
  };
  const options = (header: string) =>
    [
      ["", "left out"],
      ...(isCurrency(header) ? [[header, header]] : []),
      ...(mapping.table === "rates" ? SERIES.map((s) => [s, s.replaceAll("_", " ")]) : []),
    ] as [string, string][];
  const constant =
    mapping.table === "fx"
      ? "base"
      : wide.columns.every((c) => c.fixed[0]?.column === "series")
        ? "currency"
        : "series";
  const fixed = mapping.fixed?.find((f) => f.column === constant)?.value ?? "";
  const fix = (value: string) => {
    const rest = (mapping.fixed ?? []).filter((f) => !["base", "currency", "series"].includes(f.column));
    edit({ fixed: value ? [...rest, { column: constant, value }] : rest });
  };
  return (
    <Box role="group" aria-label="Columns of values" sx={{ mt: 1, display: "flex", flexDirection: "column", gap: 1 }}>
      <Typography variant="caption" color="textSecondary">
        {mapping.table === "fx"
          ? "Each column is a currency: units of it for one of the base."
          : "Each column is a currency or a series of rates."}
      </Typography>
      {constant === "series" ? (
        <Choice
          label="Series"
          value={fixed}
          options={SERIES.map((s) => [s, s.replaceAll("_", " ")] as const)}
          change={fix}
        />
      ) : (
        <CurrencyField
          key={constant}
          label={constant === "base" ? "One unit of" : "Currency"}
          value={fixed}
          change={fix}
        />
      )}
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: mapping.table === "fx" ? "repeat(3, minmax(0, 1fr))" : "1fr",
          gap: 1,
        }}
      >
        {headers.map((h) => (
          <Choice key={h} label={h} value={of(h)} options={options(h)} change={(code) => set(h, code)} />
        ))}
      </Box>
      {mapping.table === "rates" && <Meaning wide={wide} change={change} />}
    </Box>
  );
}

/** What a value of rates is, and when it was known. */
function Meaning({ wide, change }: { wide: Wide; change: (part: Partial<Wide>) => void }) {
  return (
    <>
      <Choice
        label="A value is"
        value={wide.dated ?? "day"}
        options={DATED}
        change={(dated) => change({ dated: dated as Wide["dated"] })}
      />
      <Box>
        <Check
          label="Percent: 4.21 is 0.0421"
          checked={wide.divide === 100}
          change={(on) => change({ divide: on ? 100 : 1 })}
        />
        <Check
          label="Levels of prices: their change over twelve months is taken"
          checked={!!wide.yearly_change}
          change={(on) => change({ yearly_change: on, dated: on ? "next_month_end" : "month_end" })}
        />
      </Box>
    </>
  );
}

function Check({ label, checked, change }: { label: string; checked: boolean; change: (on: boolean) => void }) {
  return (
    <FormControlLabel
      sx={{ display: "flex" }}
      control={<Checkbox sx={{ p: 0.5 }} checked={checked} onChange={(e) => change(e.target.checked)} />}
      label={<Typography variant="body2">{label}</Typography>}
    />
  );
}
