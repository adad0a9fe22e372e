// One list as a table.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useQueryState } from "nuqs";
import { lazy, Suspense, useCallback, useMemo, useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Schemas } from "../../api/client";
import { lists, useListRows } from "../../api/following";
import { Empty, Failed, LoadingTable } from "../../components/States";
import { MenuButton } from "../../components/menu/MenuButton";
import { DataTable } from "../../components/table/DataTable";
import type { Rows, SortBy } from "../../components/table/model";
import { type Action, useActions } from "../../headless/actions";
import { told } from "../../headless/notice";
import { order as orderText } from "../../headless/address";
import { useAddress, useAsOf } from "../../headless/asOf";
import { symbolsOf, useCompanyDrop } from "../../headless/dragged";
import { day } from "../../headless/format";
import { useListing } from "../../headless/listing";
import { useCompanyMarks } from "../../headless/marks";
import { tint } from "../../theme/theme";
import { useOpenCompany } from "../companies/open";
import { listColumns, type Row, SORTS } from "./columns";
import { MoveDialog } from "./MoveDialog";
import type { ListWork } from "./useListWork";

const MemberSheet = lazy(async () => ({ default: (await import("./MemberSheet")).MemberSheet }));
const PasteDialog = lazy(async () => ({ default: (await import("./PasteDialog")).PasteDialog }));
const ListColumns = lazy(async () => ({ default: (await import("./ListColumns")).ListColumns }));

const SORTED = orderText.withDefault([]);
/** Pixels of a row whose note is told. */
const WITH_NOTE = 48;
const PLAIN = 31;

interface Props {
  entry: Schemas["ListEntry"];
  work: ListWork;
}

export function ListTable({ entry, work }: Props) {
  const [asOf] = useAsOf();
  const { data, error, refetch } = useListRows(entry.id, { as_of: asOf ?? null, columns: null });
  const [pasting, paste] = useState<string | null>(null);
  const { over, onto } = useTextDrop(paste);
  useActions([{ label: "Paste companies into the list", run: () => paste("") }]);
  const take = (matched: Schemas["PastedCompany"][]) =>
    work
      .add(
        entry.id,
        entry.name,
        matched.map((m) => m.company.symbol),
        "pasted",
        matched.map((m) => ({ note: m.own.note, price: m.own.price })),
      )
      .then(() => paste(null));
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  return (
    <Box
      {...onto}
      sx={{
        flex: 1,
        minHeight: 0,
        display: "flex",
        flexDirection: "column",
        outline: over ? `2px solid ${tint("brass")}` : "none",
      }}
    >
      <Head entry={entry} rows={data} work={work} paste={() => paste("")} />
      {data?.id === entry.id ? <TheTable list={data} work={work} paste={() => paste("")} /> : <LoadingTable />}
      <Suspense>
        {pasting !== null && (
          <PasteDialog
            title={`Put on ${entry.name}`}
            begin={pasting}
            take={(m) => void take(m)}
            close={() => paste(null)}
          />
        )}
      </Suspense>
    </Box>
  );
}

/** A file or text from elsewhere, dropped on the list. */
function useTextDrop(take: (text: string) => void) {
  const [over, setOver] = useState(false);
  const foreign = (e: React.DragEvent) => !e.dataTransfer.types.some((t) => t.startsWith("application/x-artemon"));
  const onto = {
    onDragOver: (e: React.DragEvent) => {
      if (!foreign(e)) return;
      e.preventDefault();
      setOver(true);
    },
    onDragLeave: () => setOver(false),
    onDrop: (e: React.DragEvent) => {
      setOver(false);
      if (!foreign(e)) return;
      e.preventDefault();
      const file = e.dataTransfer.files[0];
      if (file) void file.text().then(take);
      else take(e.dataTransfer.getData("text/plain"));
    },
  };
  return { over, onto };
}

interface HeadProps {
  entry: Schemas["ListEntry"];
  rows: Schemas["ListRows"] | undefined;
  work: ListWork;
  paste: () => void;
}

function Head({ entry, rows, work, paste }: HeadProps) {
  const to = useAddress();
  const [anchor, setAnchor] = useState<Element | null>(null);
  const under = rows?.rows.filter((r) => r.under).length ?? 0;
  return (
    <Box sx={{ display: "flex", alignItems: "baseline", gap: 1.5, mb: 1, flexWrap: "wrap" }}>
      <Typography variant="h1" component="h2" noWrap sx={{ maxWidth: 420 }}>
        {entry.name}
      </Typography>
      <Typography variant="sentence" color="textSecondary" sx={{ flex: 1, whiteSpace: "nowrap" }}>
        {rows && inWords(rows.rows.length, under)}
        {rows && ` on ${day(rows.as_of)}`}
      </Typography>
      <Box sx={{ display: "flex", mr: -0.6 }}>
        <Button onClick={paste}>Paste…</Button>
        <Button onClick={(e) => setAnchor(e.currentTarget)}>Columns</Button>
        <MenuButton
          label="Use ▾"
          means="What can be done with these companies"
          items={[
            { label: "As CSV", run: () => void told(lists.download(entry.id, entry.name, "csv")) },
            { label: "As a workbook", run: () => void told(lists.download(entry.id, entry.name, "xlsx")) },
          ]}
        />
        <Link component={RouterLink} to={to(`/candidates?whom=list:${encodeURIComponent(entry.name)}`)} sx={WAY}>
          Rank them
        </Link>
      </Box>
      <Suspense>
        {anchor && rows && (
          <ListColumns
            columns={rows.columns.map((c) => c.formula)}
            change={(to) => void work.columns(entry.id, to)}
            anchor={anchor}
            close={() => setAnchor(null)}
          />
        )}
      </Suspense>
    </Box>
  );
}

const WAY = { fontWeight: 600, fontSize: 13, px: 0.75, py: 0.5 };

const inWords = (n: number, under: number): string => {
  const all = n === 1 ? "One company" : `${n} companies`;
  return n === 0
    ? "Nobody yet"
    : under === 0
      ? `${all}, none under its price`
      : `${all}, ${under} under ${under === 1 ? "its" : "their"} price`;
};

function TheTable({ list, work, paste }: { list: Schemas["ListRows"]; work: ListWork; paste: () => void }) {
  const address = useAddress();
  const [sort, setSort] = useQueryState("sort", SORTED);
  const [edited, edit] = useState<Row | null>(null);
  const [moving, move] = useState<Row | null>(null);
  const marks = useCompanyMarks<Row>();
  const sorted = useMemo(() => inOrder(list, sort), [list, sort]);
  const rows = useMemo((): Rows<Row> => ({ count: sorted.length, at: (i) => sorted[i] }), [sorted]);
  const columns = useMemo(() => listColumns(list, address, edit), [list, address]);
  const symbols = useMemo(() => sorted.map((r) => r.symbol), [sorted]);
  const open = useOpenCompany(useCallback(async () => symbols, [symbols]));
  const ask = useListing((s) => s.ask);
  const place = (symbol: string, by: number) => {
    const at = symbols.indexOf(symbol);
    reorder(symbols, symbol, at + by);
  };
  const reorder = (from: string[], symbol: string, at: number) => {
    const next = from.filter((s) => s !== symbol);
    next.splice(Math.min(Math.max(at, 0), next.length), 0, symbol);
    void setSort(null);
    work.order(list.id, next);
  };
  const actions = (row: Row): Action[] => [
    { keys: "l", label: "Put the company on another list too", run: () => ask([row], list.name) },
    { keys: "m", label: "Move the company to another list", run: () => move(row) },
    { keys: "n", label: "Note, price and soundness", run: () => edit(row) },
    { keys: "J", label: "Move the row down", run: () => place(row.symbol, 1) },
    { keys: "K", label: "Move the row up", run: () => place(row.symbol, -1) },
    {
      keys: "Delete",
      label: "Take the company off the list",
      run: () => work.remove(list.id, list.name, [row.symbol]),
    },
  ];
  const { onto } = useCompanyDrop((what, copy, target) => {
    const at = Number(target.closest("[data-row]")?.getAttribute("data-row") ?? symbols.length);
    if (what.from === list.id) for (const s of symbolsOf(what)) reorder(symbols, s, at);
    else if (what.from) work.move(what.from, list, symbolsOf(what), copy);
    else void work.add(list.id, list.name, symbolsOf(what), what.found);
  });
  return (
    <Box {...onto} sx={{ flex: 1, minHeight: 0, display: "flex", flexDirection: "column" }}>
      <DataTable
        name="list"
        label={`The list ${list.name}`}
        columns={columns}
        rows={rows}
        sort={sort}
        setSort={(s) => void setSort(s)}
        marks={marks}
        open={open}
        actions={actions}
        tall={(row) => (row.own.note ? WITH_NOTE : PLAIN)}
        testId="member"
        empty={
          <Empty title="Nobody is on this list yet">
            Press l on any company, drag marked ones here, or{" "}
            <Link component="button" onClick={paste}>
              paste symbols, ISINs or names
            </Link>
            .
          </Empty>
        }
        sx={{ flex: 1, minHeight: 180 }}
      />
      <Suspense>
        {edited && <MemberSheet list={list.id} row={edited} work={work} close={() => edit(null)} />}
        {moving && <MoveDialog from={list.id} row={moving} work={work} close={() => move(null)} />}
      </Suspense>
    </Box>
  );
}

/** By the columns that are sorted by; else as they stand on the list. */
function inOrder(list: Schemas["ListRows"], sort: SortBy[]): Row[] {
  const keys = sort.map((s) => ({ desc: s.desc, of: keyOf(list, s.id) }));
  const compare = (a: Row, b: Row) => {
    for (const { desc, of } of keys) {
      const [x, y] = [of(a), of(b)];
      if (x === y) continue;
      // What is not known is last both ways.
      if (x === null) return 1;
      if (y === null) return -1;
      return (x < y ? -1 : 1) * (desc ? -1 : 1);
    }
    return 0;
  };
  return keys.length === 0 ? list.rows : [...list.rows].sort(compare);
}

function keyOf(list: Schemas["ListRows"], id: string): (row: Row) => number | string | null {
  const known = SORTS[id];
  if (known) return known;
  const at = list.columns.findIndex((c) => `f:${c.formula}` === id);
  return (row) => {
    const value = row.values[at];
    return value === undefined || value === null ? null : typeof value === "boolean" ? Number(value) : value;
  };
}
