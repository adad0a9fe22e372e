// The ledger: what one holds and ordered, what came of it, and the whole against the same money in an index.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import Typography from "@mui/material/Typography";
import { parseAsString, parseAsStringLiteral, useQueryState } from "nuqs";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { ledger, useLedger } from "../../api/ledger";
import { MenuButton } from "../../components/menu/MenuButton";
import { Failed, LoadingPage } from "../../components/States";
import { ViewTabs } from "../../components/ViewTabs";
import { among, WordChoice } from "../../components/WordChoice";
import { useActions } from "../../headless/actions";
import { told } from "../../headless/notice";
import { useAsOf } from "../../headless/asOf";
import { compact, day, signed } from "../../headless/format";
import { AccountForm } from "./entries/AccountForm";
import { Accounts } from "./holding/Accounts";
import { EntryForm } from "./entries/EntryForm";
import { Holdings } from "./holding/Holdings";
import { Sold } from "./holding/Sold";
import { Imports } from "./entries/Imports";
import { Journal } from "./entries/Journal";
import { StatementForm } from "./entries/StatementForm";
import { Decisions } from "./decisions/Decisions";
import { ResultsView } from "./results/Results";
import { TermsForm } from "./TermsForm";
import { Orders } from "./orders/Orders";
import { WealthChart } from "./holding/WealthChart";

type Page = Schemas["LedgerPage"];

const VIEWS = ["Holdings", "Decisions", "Results", "Journal"] as const;
type Dialogs = "account" | "entry" | "statement" | "terms" | null;

export function LedgerPlace() {
  const [asOf] = useAsOf();
  const [index] = useQueryState("index", parseAsString);
  const [lines, setLines] = useState<number | null>(null);
  const page = useLedger({ as_of: asOf ?? null, index, lines });
  const [opened, open] = useState<Dialogs>(null);
  const accounts = page.data?.accounts ?? [];
  const byHand = accounts.some((a) => a.by_hand);
  const [view, setView] = useQueryState("view", parseAsStringLiteral(VIEWS).withDefault("Holdings"));
  useActions([
    { label: "Open an account", run: () => open("account") },
    { label: "Terms and limits of the ledger", run: () => open("terms") },
    ...(byHand ? [{ label: "Bring a statement", run: () => open("statement") }] : []),
    ...(accounts.length > 0 ? [{ keys: "n", label: "Enter a deposit or trade", run: () => open("entry") }] : []),
    ...VIEWS.map((v) => ({ label: `Ledger: ${v}`, run: () => void setView(v) })),
  ]);
  if (page.error) return <Failed error={page.error} retry={() => void page.refetch()} />;
  if (!page.data) return <LoadingPage />;
  const { data } = page;
  if (accounts.length === 0) return <NoAccount />;
  return (
    <Box sx={{ height: "100%", overflowY: "auto", px: 2.75, pt: 1.5, pb: 5, "@media print": { height: "auto" } }}>
      <Head open={open} byHand={byHand} asOf={asOf} />
      <Sentence data={data} />
      {data.stands_still_until && (
        <Typography className="clay" sx={{ mb: 1 }}>
          The dataset begins again: your simulated accounts have entries up to {day(data.stands_still_until)} and go on
          once the data have come so far. What you see is their state of {day(data.as_of)}.
        </Typography>
      )}
      <ViewTabs
        label="Parts of the ledger"
        views={VIEWS.map((id) => ({ id, label: id === "Decisions" ? <Due n={data.due} /> : id }))}
        view={view}
        choose={(v) => void setView(v)}
      />
      {view === "Holdings" && (
        <>
          <Box sx={COLUMNS}>
            <WealthChart page={data} />
            <Accounts accounts={data.accounts} base={data.base} />
          </Box>
          <Holdings page={data} />
          <Orders orders={data.orders} />
          {data.closed.length > 0 && <Sold rows={data.closed} index={index} />}
        </>
      )}
      {view === "Decisions" && <Decisions asOf={asOf} index={index} />}
      {view === "Results" && <ResultsView asOf={asOf} index={index} />}
      {view === "Journal" && (
        <>
          <Journal page={data} askAll={() => setLines(data.journal_lines)} />
          <Imports />
        </>
      )}
      <Opened which={opened} data={data} close={() => open(null)} />
    </Box>
  );
}

interface HeadProps {
  open: (which: Dialogs) => void;
  byHand: boolean;
  asOf: string | undefined;
}

function Head({ open, byHand, asOf }: HeadProps) {
  return (
    <Box sx={{ display: "flex", alignItems: "baseline", gap: 1.5, flexWrap: "wrap" }}>
      <Typography variant="h1">Ledger</Typography>
      <Box sx={{ flex: 1 }} />
      <Box className="not-on-paper">
        <Button onClick={() => open("entry")}>Enter…</Button>
        {byHand && <Button onClick={() => open("statement")}>Statement…</Button>}
        <Button onClick={() => open("account")}>New account</Button>
        <MenuButton
          label="More"
          items={[
            { label: "Terms and limits…", run: () => open("terms") },
            { label: "Export the journal as CSV", run: () => void told(ledger.file("csv", asOf)) },
            {
              label: "Export a workbook that goes on computing (XLSX)",
              run: () => void told(ledger.file("xlsx", asOf)),
            },
            { label: "Export everything as JSON", run: () => void told(ledger.file("json", asOf)) },
          ]}
        />
      </Box>
    </Box>
  );
}

function Sentence({ data }: { data: Page }) {
  const [, setIndex] = useQueryState("index", parseAsString);
  return (
    <Typography variant="sentence" component="p" sx={{ mt: 0.5, mb: 1 }}>
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
  );
}

function Due({ n }: { n: number }) {
  return <>Decisions{n > 0 && <span className="brass">&nbsp;{n}</span>}</>;
}

function Opened({ which, data, close }: { which: Dialogs; data: Page; close: () => void }) {
  return (
    <Dialog
      open={which !== null}
      onClose={close}
      fullWidth
      maxWidth={which === "account" ? "xs" : which === "statement" ? "md" : "sm"}
    >
      {which === "account" && <AccountForm close={close} />}
      {which === "entry" && <EntryForm accounts={data.accounts} asOf={data.as_of} close={close} />}
      {which === "statement" && <StatementForm accounts={data.accounts.filter((a) => a.by_hand)} close={close} />}
      {which === "terms" && <TermsForm close={close} />}
    </Dialog>
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
