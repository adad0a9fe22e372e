// How a CSV statement is understood: which column says what, what its words mean, how it writes days and decimals.
import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { Fold } from "../../../components/Fold";

type Answer = Schemas["StatementMappingAnswer"];
type Mapping = Schemas["StatementMapping"];
type Columns = Record<string, string>;
type Word = Schemas["MeantWord"];

const FIELDS: Columns = {
  traded_on: "Day",
  kind: "What happened",
  isin: "ISIN",
  symbol: "Symbol",
  name: "Name",
  units: "Quantity",
  price: "Price",
  total: "Cash moved",
  commission: "Commission",
  fees: "Fees and taxes",
  withheld: "Tax withheld",
  currency: "Currency",
  id: "Identifier",
  settled_on: "Settled on",
  memo: "Note",
};

const KINDS: Schemas["StatementKind"][] = [
  "buy",
  "sell",
  "dividend",
  "interest",
  "capital_gain",
  "income",
  "reinvest",
  "fee",
  "deposit",
  "withdrawal",
  "transfer_in",
  "transfer_out",
  "split",
  "return_of_capital",
];

interface Props {
  of: Answer;
  change: (to: Mapping) => void;
}

export function StatementMappingFields({ of, change }: Props) {
  const { mapping } = of;
  const { columns, words } = mapping;
  const setColumn = (field: string, header: string) => {
    const { [field]: _, ...others } = columns;
    change({ ...mapping, columns: header === "" ? others : { ...others, [field]: header } });
  };
  const setWord = (to: Word) => change({ ...mapping, words: words.map((w) => (w.word === to.word ? to : w)) });
  return (
    <Fold label={`Columns and words, ${of.remembered ? "as last time" : "as guessed"}`} open={!of.remembered}>
      <Box sx={GRID}>
        {Object.entries(FIELDS).map(([field, label]) => (
          <Choice
            key={field}
            label={label}
            value={columns[field] ?? ""}
            set={(header) => setColumn(field, header)}
            items={[["", "–"], ...of.headers.map((h): [string, string] => [h, h])]}
          />
        ))}
        <Choice
          label="Days are written"
          value={mapping.dates}
          set={(dates) => change({ ...mapping, dates: dates as Mapping["dates"] })}
          items={[
            ["year_month_day", "2026-06-30"],
            ["day_month_year", "30.6.2026"],
            ["month_day_year", "6/30/2026"],
          ]}
        />
        <Choice
          label="Decimals are written"
          value={mapping.decimal}
          set={(decimal) => change({ ...mapping, decimal: decimal as Mapping["decimal"] })}
          items={[
            ["point", "1,234.50"],
            ["comma", "1.234,50"],
          ]}
        />
      </Box>
      {words.length > 0 && (
        <>
          <Typography variant="h3" sx={{ mt: 1.5 }}>
            Its words
          </Typography>
          <Box sx={GRID}>
            {words.map(({ word, means }) => (
              <Choice
                key={word}
                label={`“${word}” is`}
                value={means ?? ""}
                set={(to) => setWord({ word, means: to === "" ? null : (to as Word["means"]) })}
                items={[["", "left out"], ...KINDS.map((k): [string, string] => [k, k.replaceAll("_", " ")])]}
              />
            ))}
          </Box>
        </>
      )}
    </Fold>
  );
}

interface ChoiceProps {
  label: string;
  value: string;
  set: (to: string) => void;
  items: [string, string][];
}

const Choice = ({ label, value, set, items }: ChoiceProps) => (
  <TextField
    select
    size="small"
    label={label}
    value={value}
    onChange={(e) => set(e.target.value)}
    slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
  >
    {items.map(([key, text]) => (
      <MenuItem key={key} value={key}>
        {text}
      </MenuItem>
    ))}
  </TextField>
);

const GRID = { display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(150px, 1fr))", gap: 1.5, mt: 1 };
