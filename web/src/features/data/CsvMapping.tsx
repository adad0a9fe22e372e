// How a file's columns become a table's: what was guessed, changed where it is wrong, seen before it is used.
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Select from "@mui/material/Select";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useRef } from "react";
import { api, type CsvPreview, type Mapping } from "../../api/client";
import { Table } from "../../components/Table";
import { tint } from "../../theme/theme";
import { Choice } from "./Choice";
import { TURNED_KEYS, TurnedTable } from "./TurnedTable";
import { WideColumns } from "./WideColumns";

const TABLES = [
  "companies",
  "listings",
  "statements",
  "prices",
  "actions",
  "estimates",
  "insider_trades",
  "ownership",
  "rates",
  "fx",
  "officers",
  "events",
  "news",
  "indexes",
  "index_members",
  "index_levels",
  "annotations",
];

/** Statements with years in columns and items in rows. */
const TURNED = "turned";

/** The tables that a file may be: where headers name years, statements turned on their side, too. */
const tablesFor = (preview: CsvPreview): (readonly [string, string])[] => {
  const plain = TABLES.map((t) => [t, t.replaceAll("_", " ")] as const);
  const years = preview.headers.filter((h) => /(^|\D)(19|20)\d\d(\D|$)/.test(h));
  return years.length > 0 ? [[TURNED, "statements, years in columns"], ...plain] : plain;
};

const DATES = [
  ["year_month_day", "2024-06-30"],
  ["day_month_year", "30.6.2024"],
  ["month_day_year", "6/30/2024"],
] as const;
/** What is asked where no row tells day and month apart. */
const ASK = ["ask", "choose"] as const;

const DECIMALS = [
  ["point", "1,234.5"],
  ["comma", "1.234,5"],
] as const;

/** A file's columns as they are taken, and whether its rows are being read anew. */
export type MappedFile = CsvPreview & { reading?: boolean };

interface Props {
  upload: string;
  preview: MappedFile;
  /** Whether to say which file it is. */
  named: boolean;
  change: (part: Partial<MappedFile>) => void;
}

export function CsvMapping({ upload, preview, named, change }: Props) {
  const { mapping } = preview;
  const newest = useRef(0);
  // What is said counts at once, so that the next answer adds to it; an answer that comes late is not taken.
  const ask = async (request: { table?: string; turned?: boolean; mapping?: Mapping }) => {
    const turn = ++newest.current;
    change({ ...(request.mapping && { mapping: request.mapping }), reading: true });
    const read = await api
      .previewFile(upload, { file: preview.file, ...request })
      .catch((e: Error) => ({ problem: e.message.replace(/\.$/, "") }));
    if (turn === newest.current) change({ ...read, reading: false });
  };
  const edit = (part: Partial<Mapping>) => mapping && ask({ mapping: { ...mapping, ...part } });
  return (
    <Box sx={{ borderTop: `1px solid ${tint("hairline")}`, py: 1 }}>
      <Typography variant="body2" sx={{ fontWeight: 600, overflowWrap: "anywhere" }}>
        {named && preview.file}
        {preview.remembered && <span className="light second"> mapped as the last time</span>}
      </Typography>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: "repeat(2, minmax(0, 1fr))",
          gap: 1,
          mt: 1,
          "& > :first-of-type": { gridColumn: "1 / -1" },
        }}
      >
        <Choice
          label="Table"
          value={mapping?.turned ? TURNED : (mapping?.table ?? "")}
          options={tablesFor(preview)}
          change={(to) => ask(to === TURNED ? { turned: true } : { table: to })}
        />
        {mapping && (
          <>
            <Choice
              label="Dates like"
              value={mapping.dates ?? "year_month_day"}
              options={mapping.dates === "ask" ? [ASK, ...DATES] : DATES}
              change={(dates) => edit({ dates: dates as NonNullable<Mapping["dates"]> })}
            />
            <Choice
              label="Numbers like"
              value={mapping.decimal ?? "point"}
              options={DECIMALS}
              change={(decimal) => edit({ decimal: decimal as NonNullable<Mapping["decimal"]> })}
            />
          </>
        )}
      </Box>
      {mapping && !mapping.turned && <Columns preview={preview} mapping={mapping} edit={edit} />}
      {mapping?.turned && <TurnedTable preview={preview} mapping={mapping} turned={mapping.turned} edit={edit} />}
      {mapping?.wide && <WideColumns preview={preview} mapping={mapping} wide={mapping.wide} edit={edit} />}
      {preview.problem && (
        <Typography role="alert" variant="body2" color="error" sx={{ mt: 1 }}>
          It cannot be taken yet: {preview.problem}.
        </Typography>
      )}
      {mapping && preview.rows.length > 0 && <Sample preview={preview} mapping={mapping} />}
    </Box>
  );
}

/** The needed columns and those that are filled; for numbers, whether they are in hundredths. */
function Columns({
  preview,
  mapping,
  edit,
}: {
  preview: CsvPreview;
  mapping: Mapping;
  edit: (part: Partial<Mapping>) => void;
}) {
  const filled = mapping.columns.map((c) => c.column);
  const byWide = ["rate", "value", "base", "quote", "currency", "series"];
  const shown = preview.columns.filter(
    (c) => (preview.required.includes(c) || filled.includes(c)) && !(mapping.wide && byWide.includes(c)),
  );
  const always = (column: string, value: string) => {
    const rest = (mapping.fixed ?? []).filter((f) => f.column !== column);
    edit({ fixed: value ? [...rest, { column, value }] : rest });
  };
  const set = (column: string, from: string) => {
    const rest = mapping.columns.filter((c) => c.column !== column);
    const fixed = (mapping.fixed ?? []).filter((f) => f.column !== column);
    edit({ columns: from ? [...rest, { column, from, divide: 1 }] : rest, fixed });
  };
  const hundredths = (column: string, on: boolean) =>
    edit({ columns: mapping.columns.map((c) => (c.column === column ? { ...c, divide: on ? 100 : 1 } : c)) });
  return (
    <Box sx={{ mt: 1, display: "grid", gridTemplateColumns: "auto 1fr auto", columnGap: 1, alignItems: "center" }}>
      {shown.map((column) => {
        const mapped = mapping.columns.find((c) => c.column === column);
        const fixed = mapping.fixed?.find((f) => f.column === column);
        return (
          <Box key={column} sx={{ display: "contents", fontSize: 13 }}>
            <span>{column.replaceAll("_", " ")}</span>
            <Select
              variant="standard"
              disableUnderline
              displayEmpty
              value={mapped?.from ?? ""}
              onChange={(e) => set(column, e.target.value)}
              inputProps={{ "aria-label": `Header for ${column}` }}
              sx={{ fontSize: 13, minWidth: 0 }}
            >
              <MenuItem value="">{fixed ? `always ${fixed.value}` : "nothing"}</MenuItem>
              {preview.headers.map((h) => (
                <MenuItem key={h} value={h}>
                  {h}
                </MenuItem>
              ))}
            </Select>
            {["open", "high", "low", "close", "amount"].includes(column) && mapped ? (
              <FormControlLabel
                sx={{ mr: 0 }}
                slotProps={{ typography: { variant: "caption" } }}
                control={
                  <Checkbox
                    sx={{ p: 0.5 }}
                    checked={mapped.divide === 100}
                    onChange={(e) => hundredths(column, e.target.checked)}
                  />
                }
                label="÷ 100"
              />
            ) : mapped ? (
              <span />
            ) : (
              <TextField
                variant="standard"
                placeholder="one for all rows"
                defaultValue={fixed?.value ?? ""}
                onBlur={(e) => e.target.value.trim() !== (fixed?.value ?? "") && always(column, e.target.value.trim())}
                slotProps={{ htmlInput: { "aria-label": `${column} of all rows` } }}
                sx={{ width: 120, "& input": { fontSize: 13, py: 0.25 } }}
              />
            )}
          </Box>
        );
      })}
    </Box>
  );
}

/** Items of a turned table that are shown of its rows. */
const MOST_ITEMS = 4;

/** The first rows as they will be taken. */
function Sample({ preview, mapping }: { preview: CsvPreview; mapping: Mapping }) {
  const wide = mapping.wide
    ? [mapping.wide.value, ...mapping.wide.columns.flatMap((c) => c.fixed.map((f) => f.column))]
    : [];
  const turned = mapping.turned
    ? [...TURNED_KEYS.slice(0, 1), ...mapping.turned.rows.slice(0, MOST_ITEMS).map((r) => r.column)]
    : [];
  const filled = new Set([
    ...mapping.columns.map((c) => c.column),
    ...(mapping.turned ? [] : (mapping.fixed ?? []).map((f) => f.column)),
    ...wide,
    ...turned,
  ]);
  const places = preview.columns.map((c, i) => [c, i] as const).filter(([c]) => filled.has(c));
  const wrong = preview.rows.find((r) => r.problem);
  return (
    <Box sx={{ mt: 1 }}>
      <Typography variant="caption" color="textSecondary">
        The first rows as they will be taken
      </Typography>
      <Table
        label={`First rows of ${preview.file}`}
        left={places.map((_, i) => i)}
        head={places.map(([c]) => c)}
        rows={preview.rows.slice(0, 4).map((r) => ({
          key: String(r.line),
          cells: places.map(([c, i]) => (
            <span key={c} className={r.problem ? "clay" : undefined}>
              {r.cells[i]}
            </span>
          )),
        }))}
      />
      {wrong && (
        <Typography variant="body2" role="alert" color="error">
          Line {wrong.line}: {wrong.problem}
        </Typography>
      )}
    </Box>
  );
}
