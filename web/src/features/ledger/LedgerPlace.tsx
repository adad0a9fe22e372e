// The ledger: what one holds and ordered, what came of it, and the whole against the same money in an index.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import Typography from "@mui/material/Typography";
import { parseAsString, useQueryState } from "nuqs";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useLedger } from "../../api/ledger";
import { Failed, LoadingPage } from "../../components/States";
import { among, WordChoice } from "../../components/WordChoice";
import { useActions } from "../../headless/actions";
import { useAsOf } from "../../headless/asOf";
import { compact, signed } from "../../headless/format";
import { AccountForm } from "./AccountForm";
import { Accounts } from "./Accounts";
import { EntryForm } from "./EntryForm";
import { Closed, Holdings } from "./Holdings";
import { Journal } from "./Journal";
import { Orders } from "./Orders";
import { WealthChart } from "./WealthChart";

type Page = Schemas["LedgerPage"];

export function LedgerPlace() {
  const [asOf] = useAsOf();
  const [index, setIndex] = useQueryState("index", parseAsString);
  const [lines, setLines] = useState<number | null>(null);
  const page = useLedger({ as_of: asOf ?? null, index, lines });
  const [opening, open] = useState(false);
  const [entering, enter] = useState(false);
  const accounts = page.data?.accounts ?? [];
  useActions([
    { label: "Open an account", run: () => open(true) },
    ...(accounts.length > 0 ? [{ keys: "n", label: "Enter a deposit or trade", run: () => enter(true) }] : []),
  ]);
  if (page.error) return <Failed error={page.error} retry={() => void page.refetch()} />;
  if (!page.data) return <LoadingPage />;
  const { data } = page;
  if (accounts.length === 0) return <NoAccount />;
  return (
    <Box sx={{ height: "100%", overflowY: "auto", px: 2.75, pt: 1.5, pb: 5 }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, flexWrap: "wrap" }}>
        <Typography variant="h1">Ledger</Typography>
        <Box sx={{ flex: 1 }} />
        <Button onClick={() => enter(true)}>Enter…</Button>
        <Button onClick={() => open(true)}>New account</Button>
      </Box>
      <Typography variant="sentence" component="p" sx={{ mt: 0.5, mb: 2 }}>
        {inASentence(data)}
        <WordChoice
          means="The index that the same money is compared with"
          word={nameOf(data) ?? "an index"}
          items={among(
            data.indexes.map((i) => i.id),
            data.index ?? "",
            (id) => data.indexes.find((i) => i.id === id)?.name ?? id,
            (id) => void setIndex(id),
          )}
        />
        {inTheIndex(data)}
      </Typography>
      <Box sx={COLUMNS}>
        <WealthChart page={data} />
        <Accounts accounts={data.accounts} base={data.base} />
      </Box>
      <Holdings page={data} />
      <Orders orders={data.orders} />
      {data.closed.length > 0 && <Closed rows={data.closed} />}
      <Journal page={data} askAll={() => setLines(data.journal_lines)} />
      <Dialog open={opening} onClose={() => open(false)} fullWidth maxWidth="xs">
        <AccountForm close={() => open(false)} />
      </Dialog>
      <Dialog open={entering} onClose={() => enter(false)} fullWidth maxWidth="sm">
        <EntryForm accounts={accounts} asOf={data.as_of} close={() => enter(false)} />
      </Dialog>
    </Box>
  );
}

const COLUMNS = {
  display: "grid",
  gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 1.4fr) minmax(0, 1fr)" },
  gap: 3.5,
};

const nameOf = ({ index, indexes }: Page) => indexes.find((i) => i.id === index)?.name;

/** "Worth 112,300 ZOC, of which 100,000 was paid in: 8.2 % a year; the same money in " */
function inASentence({ total, base }: Page): string {
  const earned = total.xirr == null ? inAll(total) : `, ${signed(total.xirr)} a year`;
  const paid = total.paid_in == null ? "" : ` on ${compact(total.paid_in)} paid in${earned}`;
  return `Worth ${compact(total.value)} ${base}${paid}; the same money in `;
}

/** In the first year what came of it so far. */
const inAll = ({ value, paid_in }: Page["total"]): string =>
  paid_in == null || paid_in <= 0 ? "" : `, ${signed(value / paid_in - 1)}`;

const inTheIndex = ({ total, base }: Page): string =>
  total.index_value == null
    ? " cannot be told."
    : ` would be ${compact(total.index_value)} ${base}${total.index_xirr == null ? "" : `, ${signed(total.index_xirr)} a year`}.`;

/** Nobody has an account at first. */
function NoAccount() {
  return (
    <Box sx={{ maxWidth: 560, mx: "auto", pt: 5, px: 2 }}>
      <Typography variant="h1" sx={{ px: 3 }}>
        Ledger
      </Typography>
      <Typography variant="sentence" component="p" sx={{ px: 3, py: 1.5 }}>
        From “worth buying under 128” to an order, a holding, and an honest account of what came of it.
      </Typography>
      <AccountForm first />
    </Box>
  );
}
