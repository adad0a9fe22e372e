// The companies with what is there of each: from, to, newest filing and its source.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import type { Schemas } from "../../api/client";
import { useHoldings } from "../../api/queries";
import { Empty, Failed } from "../../components/States";
import { DataTable } from "../../components/table/DataTable";
import type { Column, SortBy } from "../../components/table/model";
import { useAddress } from "../../headless/asOf";
import { companies, day, plain } from "../../headless/format";
import { companyColumn } from "../companies/tableColumns";

type Row = Schemas["HoldingsRow"];

const span = (e: Schemas["ExtentAnswer"]) => (e.first && e.last ? `${e.first.slice(0, 4)}–${e.last.slice(0, 4)}` : "–");

export function Holdings() {
  const [text, setText] = useState("");
  const [sort, setSort] = useState<SortBy[]>([]);
  const { rows, error } = useHoldings({
    text,
    order: sort.map(({ id, desc }) => ({ by: id as Schemas["HoldingsKey"], descending: desc })),
  });
  const address = useAddress();
  const columns = useMemo(
    () => [{ ...companyColumn<Row>(address), id: "name", sorts: "ascending" as const }, ...COLUMNS],
    [address],
  );
  if (error) return <Failed error={error} />;
  return (
    <>
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", mb: 0.75 }}>
        <TextField
          placeholder="Narrow by name or symbol"
          value={text}
          onChange={(e) => setText(e.target.value)}
          sx={{ width: 260 }}
          slotProps={{ htmlInput: { "aria-label": "Narrow the companies" } }}
        />
        <Typography variant="body2" color="textSecondary" aria-live="polite">
          {companies(rows.count)}
        </Typography>
      </Box>
      <DataTable
        name="data"
        label="Data held on each company"
        columns={columns}
        rows={rows}
        sort={sort}
        setSort={setSort}
        empty={
          <Empty title={text ? "No company of this name" : "No companies yet"}>
            {text
              ? "Check the spelling; delisted companies are here too."
              : "Drop a Data Package or companies.csv on the right."}
          </Empty>
        }
        sx={{ flex: 1, minHeight: 160 }}
      />
    </>
  );
}

const count = (id: string, label: string, width: number, of: (row: Row) => number, tip?: (row: Row) => string) => ({
  id,
  label,
  width,
  align: "end" as const,
  sorts: "descending" as const,
  cell: (row: Row) => plain(of(row), 0),
  text: (row: Row) => String(of(row)),
  ...(tip && { tip }),
});

const COLUMNS: Column<Row>[] = [
  count(
    "filings",
    "Filings",
    60,
    (r) => r.statements.rows,
    (r) => span(r.statements),
  ),
  count("sessions", "Sessions", 70, (r) => r.prices.rows),
  { id: "prices", label: "Prices", width: 84, cell: (r) => span(r.prices), text: (r) => span(r.prices) },
  count("estimates", "Estimates", 72, (r) => r.estimates),
  {
    id: "newest_filing",
    label: "Newest filing",
    width: 92,
    align: "end",
    sorts: "descending",
    cell: (r) => (r.newest_filing ? day(r.newest_filing) : "–"),
    text: (r) => r.newest_filing ?? "",
  },
  {
    id: "source",
    label: "Source",
    width: 110,
    sorts: "ascending",
    cell: (r) => <span className="faint">{r.source || "–"}</span>,
    text: (r) => r.source,
    tip: (r) => r.source,
  },
  {
    id: "doubts",
    label: "Doubts",
    meaning: "Figures that look like mistakes",
    width: 58,
    align: "end",
    sorts: "descending",
    cell: (r) => <span className={r.findings > 0 ? "clay" : "faint"}>{r.findings}</span>,
    text: (r) => String(r.findings),
  },
  {
    id: "export",
    label: "Export",
    meaning: "Everything of the company as a Data Package",
    width: 50,
    cell: (r) => (
      <Link href={packageOf(r)} download>
        zip
      </Link>
    ),
    text: packageOf,
    open: (r) => window.location.assign(packageOf(r)),
  },
];

function packageOf(row: Row): string {
  return `/api/export?symbol=${encodeURIComponent(row.symbol)}`;
}
