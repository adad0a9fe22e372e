// The order sheet: a limit on the ruler of prices, how much, how long, what is to become of it; one sentence says what it comes to.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useState } from "react";
import type { Schemas } from "../../../api/client";
import { ledger, useLedger, useLedgerChange, useOrderSheet } from "../../../api/ledger";
import { Fold } from "../../../components/Fold";
import { NumberField } from "../../../components/NumberField";
import { Loading } from "../../../components/States";
import { monthsAfter } from "../../../headless/days";
import { useDraft } from "../../../headless/draft";
import { compact, percent, plain } from "../../../headless/format";
import { useOrdering } from "../../../headless/ordering";
import { readWorking } from "../../../headless/screenState";
import { useUndo } from "../../../headless/undo";
import { AccountForm } from "../entries/AccountForm";
import { ReasonsFields } from "../decisions/ReasonsFields";
import { NO_REASONS, says, tidy } from "../decisions/words";
import { PriceRuler } from "./PriceRuler";

const FitSection = lazy(() => import("./Fit"));

type Account = Schemas["AccountRow"];

export function OrderSheet() {
  const { symbol, close } = useOrdering();
  const page = useLedger({ as_of: null, index: null, lines: null });
  if (!symbol) return null;
  const accounts = page.data?.accounts.filter((a) => !a.by_hand) ?? [];
  return (
    <Dialog open onClose={close} fullWidth maxWidth="md">
      {!page.data && <Loading />}
      {page.data && accounts.length === 0 && <AccountForm close={close} first />}
      {page.data && accounts.length > 0 && <Sheet key={symbol} symbol={symbol} accounts={accounts} />}
    </Dialog>
  );
}

const LAST_ACCOUNT = "artemon.order.account";

type Asked = Schemas["OrderRequest"];

/** What is typed stays when the sheet is left, until the order is given. */
function useAsked(symbol: string, accounts: Account[]) {
  const { side, account: from } = useOrdering();
  const remembered = accounts.find((a) => a.id === (from ?? localStorage.getItem(LAST_ACCOUNT)));
  const account = (remembered ?? accounts[0])?.id ?? "";
  const screen = window.location.pathname.startsWith("/screens") ? (readWorking()?.doc ?? null) : null;
  const start: Asked = {
    account,
    symbol,
    side,
    at: "limit",
    good: "until_cancelled",
    reasons: { ...NO_REASONS, screen },
  };
  const [draft, change, letGo] = useDraft<Asked>(`order:${side}:${symbol}`, start);
  // A draft of an account that is gone, or of another one from which is sold now.
  const asked = accounts.some((a) => a.id === draft.account) && !from ? draft : { ...draft, account };
  return { asked, set: (to: Partial<Asked>) => change({ ...asked, ...to }), letGo };
}

function Sheet({ symbol, accounts }: { symbol: string; accounts: Account[] }) {
  const { side, close } = useOrdering();
  const { asked, set, letGo } = useAsked(symbol, accounts);
  const [sure, setSure] = useState(false);
  const { reasons, ...terms } = asked;
  // Words change nothing of what it comes to.
  const sheet = useOrderSheet(terms);
  const { place, problem, busy } = usePlacing(asked, sure, letGo);
  const found = sheet.data;
  return (
    <form
      aria-label="Order sheet"
      onSubmit={(e) => {
        e.preventDefault();
        place();
      }}
    >
      <DialogTitle sx={{ pb: 0.5 }}>
        {side === "buy" ? "Buy" : "Sell"} {found?.name ?? symbol} <span className="faint light">{symbol}</span>
      </DialogTitle>
      <DialogContent>
        <Typography variant="sentence" component="p" aria-live="polite" sx={{ mb: 2, minHeight: 52 }}>
          {found?.sentence ?? ""}
        </Typography>
        <Box sx={{ display: "flex", gap: 3, flexWrap: { xs: "wrap", md: "nowrap" } }}>
          {found && asked.at === "limit" && (
            <PriceRuler sheet={found} sells={side === "sell"} setLimit={(limit) => set({ limit })} />
          )}
          <Box sx={{ flex: 1, minWidth: 260 }}>
            <Terms asked={asked} set={set} sheet={found} accounts={accounts} />
            {found && <ComesTo sheet={found} />}
          </Box>
          <Box sx={{ width: 240, flexShrink: 0 }}>
            {[sheet.error?.message, problem, found?.refused && asked.quantity != null ? found.refused : ""]
              .filter(Boolean)
              .map((p) => (
                <Alert key={p} severity="warning" variant="outlined" icon={false} sx={{ mb: 1 }}>
                  {p}
                </Alert>
              ))}
            {found?.warnings.map((w) => (
              <Typography key={w} variant="body2" className="clay" sx={{ mb: 1 }}>
                {w}
              </Typography>
            ))}
            {found?.asks && (
              <Button onClick={() => setSure(!sure)} aria-pressed={sure} sx={{ textAlign: "left" }}>
                {found.asks} {sure ? "Yes ✓" : "Yes, I am sure"}
              </Button>
            )}
          </Box>
        </Box>
        <Fold label="Why: the record of the decision" open={side === "buy"}>
          <ReasonsFields
            reasons={reasons ?? NO_REASONS}
            set={(to) => set({ reasons: { ...NO_REASONS, ...reasons, ...to } })}
            choice={side === "buy" ? "buy" : "sell"}
          />
        </Fold>
        {side === "buy" && (
          <Fold label="Does it fit what I hold?">
            <Suspense>
              <FitSection asked={terms} />
            </Suspense>
          </Fold>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        <Button
          type="submit"
          variant="contained"
          disabled={!found || Boolean(found.refused) || (Boolean(found.asks) && !sure) || busy}
        >
          Give the order
        </Button>
      </DialogActions>
    </form>
  );
}

/** Gives the order, with its reasons where any are said; it can be undone. */
function usePlacing(asked: Asked, sure: boolean, letGo: () => void) {
  const { close } = useOrdering();
  const [problem, setProblem] = useState("");
  const change = useLedgerChange<Schemas["Given"]>();
  const did = useUndo((s) => s.did);
  const reasons = asked.reasons && says(asked.reasons) ? tidy(asked.reasons) : null;
  const place = () => {
    localStorage.setItem(LAST_ACCOUNT, asked.account);
    change.mutate(() => ledger.order({ ...asked, reasons, sure }), {
      onSuccess: ({ order }) => {
        did({
          what: `order ${order}`,
          removed: `Order ${order} given`,
          undo: () => change.mutate(async () => ledger.cancel(order).then(() => ({ order, n: 0 }))),
          redo: place,
        });
        letGo();
        close();
      },
      onError: (why) => setProblem(why.message),
    });
  };
  return { place, problem, busy: change.isPending };
}

/** "Fee 9.98, cash after it 41,200 ZOC, 0.8 % of a day's trading". */
function ComesTo({ sheet: s }: { sheet: Schemas["OrderSheet"] }) {
  if (s.fee == null || s.cash_after == null) return null;
  const traded = s.of_volume == null ? "" : `, ${percent(s.of_volume)} of a day's trading`;
  return (
    <Typography variant="body2" color="textSecondary" sx={{ mt: 1.5 }}>
      Fee {plain(s.fee, 2)}, cash after it{" "}
      <span className={s.cash_after < 0 ? "clay" : "ink"}>
        {compact(s.cash_after)} {s.account_currency}
      </span>
      {traded}.
    </Typography>
  );
}

interface TermsProps {
  asked: Schemas["OrderRequest"];
  set: (to: Partial<Schemas["OrderRequest"]>) => void;
  sheet: Schemas["OrderSheet"] | undefined;
  accounts: Account[];
}

/** The fields, the most asked first. */
function Terms({ asked, set, sheet, accounts }: TermsProps) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 2, alignItems: "start" }}>
      {accounts.length > 1 && (
        <TextField select label="Account" value={asked.account} onChange={(e) => set({ account: e.target.value })}>
          {accounts.map((a) => (
            <MenuItem key={a.id} value={a.id}>
              {a.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      <TextField select label="At" value={asked.at} onChange={(e) => set({ at: e.target.value })}>
        <MenuItem value="limit">a limit</MenuItem>
        <MenuItem value="market">the market's open</MenuItem>
      </TextField>
      {asked.at === "limit" && (
        <NumberField
          label="Limit"
          value={asked.limit ?? sheet?.limit}
          set={(limit) => set({ limit })}
          of="per_share"
          unit={sheet?.listing_currency ?? ""}
          width="100%"
        />
      )}
      <NumberField
        label="Shares"
        value={asked.quantity ?? (asked.amount == null ? null : sheet?.quantity)}
        set={(quantity) => set({ quantity, amount: null })}
        width="100%"
        {...(asked.side === "sell" && sheet && { otherwise: `${sheet.held} held` })}
      />
      {asked.side === "buy" && (
        <NumberField
          label="or for an amount of"
          value={asked.amount}
          set={(amount) => set({ amount, quantity: null })}
          unit={sheet?.account_currency ?? ""}
          width="100%"
        />
      )}
      <Duration asked={asked} set={set} sheet={sheet} />
      {asked.side === "buy" && <SellRule asked={asked} set={set} sheet={sheet} />}
    </Box>
  );
}

type Part = Omit<TermsProps, "accounts">;

/** How long it works. */
function Duration({ asked, set, sheet }: Part) {
  const good = asked.good === "day" || asked.good === "until_cancelled" ? asked.good : "date";
  return (
    <>
      <TextField
        select
        label="Good"
        value={good}
        onChange={(e) => set({ good: e.target.value === "date" ? monthsAfter(sheet?.as_of ?? "", 3) : e.target.value })}
      >
        <MenuItem value="day">for the next session</MenuItem>
        <MenuItem value="date">until a day</MenuItem>
        <MenuItem value="until_cancelled">until cancelled</MenuItem>
      </TextField>
      {good === "date" && (
        <TextField
          type="date"
          label="Until"
          value={asked.good}
          onChange={(e) => e.target.value && set({ good: e.target.value })}
          slotProps={{ inputLabel: { shrink: true } }}
        />
      )}
    </>
  );
}

/** What is to become of what is bought. */
function SellRule({ asked, set, sheet }: Part) {
  return (
    <>
      <NumberField
        label="then sell at"
        value={asked.sell_at}
        set={(sell_at) => set({ sell_at, sell_at_gain: null })}
        of="per_share"
        unit={sheet?.listing_currency ?? ""}
        {...(sheet?.value != null && { otherwise: `value ${sheet.value.toPrecision(3)}` })}
        width="100%"
      />
      <NumberField
        label="or at a gain of"
        value={asked.sell_at_gain}
        set={(sell_at_gain) => set({ sell_at_gain, sell_at: null })}
        of="percent"
        width="100%"
      />
    </>
  );
}
