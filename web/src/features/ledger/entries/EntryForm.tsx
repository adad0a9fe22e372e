// A deposit or withdrawal is entered; in an account kept by hand also a trade, income or a price.
import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { ledger, useLedgerChange } from "../../../api/ledger";
import { DateField } from "../../../components/DateField";
import { NumberField } from "../../../components/NumberField";

type Account = Schemas["AccountRow"];
type Kind = "deposit" | "withdraw" | "buy" | "sell" | "income" | "split" | "return_of_capital" | "price";

const KINDS: [Kind, string][] = [
  ["deposit", "Money paid in"],
  ["withdraw", "Money taken out"],
  ["buy", "A purchase"],
  ["sell", "A sale"],
  ["income", "Income: interest, a dividend"],
  ["split", "A split: shares for one"],
  ["return_of_capital", "Capital returned"],
  ["price", "A price of what is held"],
];

interface Props {
  accounts: Account[];
  asOf: string;
  close: () => void;
}

interface Typed {
  kind: Kind;
  amount: number | null;
  what: string;
  quantity: number | null;
  price: number | null;
  multiplier: number | null;
  fee: number | null;
  date: string;
}

export function EntryForm({ accounts, asOf, close }: Props) {
  const [id, setId] = useState(accounts[0]?.id ?? "");
  const blank: Typed = {
    kind: "deposit",
    amount: null,
    what: "",
    quantity: null,
    price: null,
    multiplier: null,
    fee: null,
    date: asOf,
  };
  const [typed, setTyped] = useState(blank);
  const change = useLedgerChange();
  const account = accounts.find((a) => a.id === id);
  const set = (to: Partial<Typed>) => setTyped((before) => ({ ...before, ...to }));
  const kinds = account?.by_hand ? KINDS : KINDS.slice(0, 2);
  const kind = kinds.some(([k]) => k === typed.kind) ? typed.kind : "deposit";
  const entered = entry({ ...typed, kind }, account?.by_hand ?? false);
  return (
    <form
      aria-label="Entry"
      onSubmit={(e) => {
        e.preventDefault();
        if (entered) change.mutate(() => ledger.enter(id, entered), { onSuccess: close });
      }}
    >
      <DialogTitle>Enter what happened</DialogTitle>
      <DialogContent sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 2, pt: "8px !important" }}>
        {change.error && (
          <Alert severity="warning" variant="outlined" icon={false} sx={{ gridColumn: "1 / -1" }}>
            {change.error.message}
          </Alert>
        )}
        <TextField select label="Account" value={id} onChange={(e) => setId(e.target.value)}>
          {accounts.map((a) => (
            <MenuItem key={a.id} value={a.id}>
              {a.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField select label="What" value={kind} onChange={(e) => set({ kind: e.target.value as Kind })}>
          {kinds.map(([k, label]) => (
            <MenuItem key={k} value={k}>
              {label}
            </MenuItem>
          ))}
        </TextField>
        <Fields typed={{ ...typed, kind }} set={set} account={account} asOf={asOf} />
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        <Button type="submit" variant="contained" disabled={!entered || change.isPending}>
          Enter
        </Button>
      </DialogActions>
    </form>
  );
}

interface FieldsProps {
  typed: Typed;
  set: (to: Partial<Typed>) => void;
  account: Account | undefined;
  asOf: string;
}

function Fields({ typed, set, account, asOf }: FieldsProps) {
  const { kind } = typed;
  const trade = kind === "buy" || kind === "sell";
  const cash = kind === "deposit" || kind === "withdraw";
  const unit = account?.currency ?? "";
  return (
    <>
      {!cash && (
        <TextField
          label="Symbol, ISIN or name"
          value={typed.what}
          onChange={(e) => set({ what: e.target.value })}
          sx={{ gridColumn: "1 / -1" }}
        />
      )}
      {(cash || kind === "income" || kind === "return_of_capital") && (
        <NumberField label="Amount" value={typed.amount} set={(amount) => set({ amount })} unit={unit} width="100%" />
      )}
      {(trade || kind === "split") && (
        <NumberField
          label={trade ? "Quantity" : "New shares for one"}
          value={typed.quantity}
          set={(quantity) => set({ quantity })}
          width="100%"
        />
      )}
      {(trade || kind === "price") && (
        <NumberField
          label="Price of one"
          value={typed.price}
          set={(to) => set({ price: to })}
          of="per_share"
          width="100%"
        />
      )}
      {trade && (
        <NumberField
          label="Multiplier"
          value={typed.multiplier}
          set={(multiplier) => set({ multiplier })}
          otherwise="1"
          width="100%"
        />
      )}
      {trade && (
        <NumberField label="Fee" value={typed.fee} set={(fee) => set({ fee })} unit={unit} otherwise="0" width="100%" />
      )}
      {(!cash || account?.by_hand) && (
        <DateField label="On" value={typed.date} set={(date) => set({ date })} first={undefined} last={asOf} />
      )}
    </>
  );
}

/** What is sent; nothing while something is missing. */
function entry(t: Typed, byHand: boolean): Schemas["Entered"] | null {
  const what = t.what.trim();
  const date = t.date || null;
  switch (t.kind) {
    case "deposit":
    case "withdraw":
      return t.amount ? { do: t.kind, amount: t.amount, date: byHand ? date : null } : null;
    case "income":
    case "return_of_capital":
      return t.amount && what ? { do: t.kind, what, amount: t.amount, date } : null;
    case "split":
      return t.quantity && what ? { do: "split", what, ratio: t.quantity, date } : null;
    case "price":
      return t.price && what ? { do: "price", what, price: t.price, date } : null;
    default:
      return t.quantity && t.price && what
        ? {
            do: "trade",
            side: t.kind,
            what,
            quantity: t.quantity,
            price: t.price,
            multiplier: t.multiplier ?? 1,
            fee: t.fee ?? 0,
            date,
          }
        : null;
  }
}
