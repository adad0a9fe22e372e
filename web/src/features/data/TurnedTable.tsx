// A table that is turned on its side: which year each column is, when it became public, and which item each row is.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { CsvPreview, Mapping, Schemas } from "../../api/client";
import { Choice } from "./Choice";
import { CompanyField } from "./CompanyField";
import { CurrencyField } from "./CurrencyField";

type Turned = Schemas["Turned"];
type OfColumn = Turned["columns"][number];

interface Props {
  preview: CsvPreview;
  mapping: Mapping;
  turned: Turned;
  edit: (part: Partial<Mapping>) => void;
}

/** What stands for each column of values. */
export const TURNED_KEYS = ["fiscal_year", "period", "period_end", "filed_on"];

const PERIODS = ["FY", "H1", "H2", "Q1", "Q2", "Q3", "Q4"];

/** By what values are divided: those of a record in thousands by a thousandth. */
const SCALES = [
  ["1", "as they stand"],
  ["0.001", "in thousands"],
  ["0.000001", "in millions"],
] as const;

/** Items that stand in units in a record in thousands. */
const inUnits = (item: string): boolean =>
  item.startsWith("eps_") || item.startsWith("shares_") || item.endsWith("_ratio");

const saidOf = (column: OfColumn, key: string): string => column.fixed.find((f) => f.column === key)?.value ?? "";

const withValue = (column: OfColumn, key: string, value: string): OfColumn => {
  const rest = column.fixed.filter((f) => f.column !== key);
  return { ...column, fixed: value ? [...rest, { column: key, value }] : rest };
};

/** The same day three months later, or the last of that month. */
const threeMonthsAfter = (day: string): string => {
  const [year = 0, month = 1, of = 1] = day.split("-").map(Number);
  const last = new Date(Date.UTC(year, month + 3, 0)).getUTCDate();
  return new Date(Date.UTC(year, month + 2, Math.min(of, last))).toISOString().slice(0, 10);
};

export function TurnedTable({ preview, mapping, turned, edit }: Props) {
  const change = (part: Partial<Turned>) => edit({ turned: { ...turned, ...part } });
  const scale = Math.abs(turned.rows.find((r) => !inUnits(r.column))?.divide ?? 1);
  const rescale = (to: number) =>
    change({
      rows: turned.rows.map((r) => ({ ...r, divide: Math.sign(r.divide ?? 1) * (inUnits(r.column) ? 1 : to) })),
    });
  const publish = () =>
    change({
      columns: turned.columns.map((c) => {
        const end = saidOf(c, "period_end");
        return saidOf(c, "filed_on") || !end ? c : withValue(c, "filed_on", threeMonthsAfter(end));
      }),
    });
  const fixed = (column: string) => mapping.fixed?.find((f) => f.column === column)?.value ?? "";
  const fix = (column: string, value: string) => {
    const rest = (mapping.fixed ?? []).filter((f) => f.column !== column);
    edit({ fixed: value ? [...rest, { column, value }] : rest });
  };
  const [name, setName] = useState("");
  const company = fixed("company_id");
  const isMissing = turned.columns.some((c) => !saidOf(c, "filed_on"));
  return (
    <Box role="group" aria-label="Years and items" sx={{ mt: 1, display: "flex", flexDirection: "column", gap: 1 }}>
      <CompanyField
        chosen={company ? { id: company, name: name || company } : null}
        choose={(c) => {
          setName(c?.name ?? "");
          fix("company_id", c?.id ?? "");
        }}
      />
      <CurrencyField label="Currency" value={fixed("currency")} change={(code) => fix("currency", code)} />
      <Typography variant="caption" color="textSecondary">
        Years stand in columns. Each counts from the day on which it became public: say it as it was, or nothing is
        right in the past.
      </Typography>
      <Years turned={turned} change={(columns) => change({ columns })} />
      {isMissing && (
        <Button sx={{ alignSelf: "flex-start", ml: -0.5 }} onClick={publish}>
          Not known: three months after each period
        </Button>
      )}
      <Choice
        label="Amounts are"
        value={String(scale)}
        options={SCALES.map(([id, words]) => [id, words] as const)}
        change={(to) => rescale(Number(to))}
      />
      <Items preview={preview} mapping={mapping} turned={turned} scale={scale} change={(rows) => change({ rows })} />
    </Box>
  );
}

function Years({ turned, change }: { turned: Turned; change: (columns: OfColumn[]) => void }) {
  const set = (from: string, key: string, value: string) =>
    change(turned.columns.map((c) => (c.from === from ? withValue(c, key, value) : c)));
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: "auto auto 1fr 1fr",
        columnGap: 1,
        rowGap: 0.5,
        alignItems: "center",
      }}
    >
      {["", "", "ends", "became public"].map((head, i) => (
        <Typography key={i} variant="caption" color="textSecondary">
          {head}
        </Typography>
      ))}
      {turned.columns.map((c) => (
        <Box key={c.from} sx={{ display: "contents", fontSize: 13 }}>
          <span>{c.from}</span>
          <Select
            variant="standard"
            disableUnderline
            value={saidOf(c, "period") || "FY"}
            onChange={(e) => set(c.from, "period", e.target.value)}
            inputProps={{ "aria-label": `Period of ${c.from}` }}
            sx={{ fontSize: 13 }}
          >
            {PERIODS.map((p) => (
              <MenuItem key={p} value={p}>
                {p}
              </MenuItem>
            ))}
          </Select>
          {["period_end", "filed_on"].map((key) => (
            <TextField
              key={key}
              variant="standard"
              type="date"
              value={saidOf(c, key)}
              onChange={(e) => set(c.from, key, e.target.value)}
              slotProps={{
                htmlInput: {
                  "aria-label": `${c.from} ${key === "filed_on" ? "became public on" : "ends on"}`,
                  max: "9999-12-31",
                },
              }}
              sx={{ "& input": { fontSize: 12.5, py: 0.25 } }}
            />
          ))}
        </Box>
      ))}
    </Box>
  );
}

interface ItemsProps {
  preview: CsvPreview;
  mapping: Mapping;
  turned: Turned;
  scale: number;
  change: (rows: Turned["rows"]) => void;
}

/** Each row with the item that it is, and whether it counts the other way. */
function Items({ preview, mapping, turned, scale, change }: ItemsProps) {
  const items = preview.columns.slice(preview.columns.indexOf("source") + 1);
  const fixed = (mapping.fixed ?? []).map((f) => f.column);
  const set = (label: string, column: string) => {
    const rest = turned.rows.filter((r) => r.label !== label && r.column !== column);
    change(column ? [...rest, { label, column, divide: inUnits(column) ? 1 : scale }] : rest);
  };
  const turn = (label: string) =>
    change(turned.rows.map((r) => (r.label === label ? { ...r, divide: -(r.divide ?? 1) } : r)));
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: "minmax(0, 1fr) minmax(0, 1fr) auto",
        columnGap: 1,
        alignItems: "center",
      }}
    >
      {preview.labels.map((label) => {
        const row = turned.rows.find((r) => r.label === label);
        return (
          <Box key={label} sx={{ display: "contents", fontSize: 13 }}>
            <span style={{ overflowWrap: "anywhere" }}>{label}</span>
            <Select
              variant="standard"
              disableUnderline
              displayEmpty
              value={row?.column ?? ""}
              onChange={(e) => set(label, e.target.value)}
              inputProps={{ "aria-label": `Item of ${label}` }}
              sx={{ fontSize: 13, minWidth: 0 }}
            >
              <MenuItem value="">left out</MenuItem>
              {items
                .filter((item) => !fixed.includes(item))
                .map((item) => (
                  <MenuItem key={item} value={item}>
                    {item.replaceAll("_", " ")}
                  </MenuItem>
                ))}
            </Select>
            {row ? (
              <Button
                size="small"
                aria-label={`Sign of ${label}`}
                title="Whether it counts as it stands or the other way round"
                onClick={() => turn(label)}
                sx={{ minWidth: 0, px: 0.75 }}
              >
                {(row.divide ?? 1) < 0 ? "× −1" : "× 1"}
              </Button>
            ) : (
              <span />
            )}
          </Box>
        );
      })}
    </Box>
  );
}
