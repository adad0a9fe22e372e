// An account is opened: simulated, with play money that trades on what the sessions bring, or kept by hand.
import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useAbout } from "../../../api/queries";
import { ledger, useLedgerChange } from "../../../api/ledger";
import { NumberField } from "../../../components/NumberField";

interface Props {
  close?: () => void;
  /** The first one, without which nothing can be ordered. */
  first?: boolean;
}

export function AccountForm({ close, first = false }: Props) {
  const base = useAbout().data?.base ?? "";
  const [name, setName] = useState("");
  const [currency, setCurrency] = useState<string | null>(null);
  const [kind, setKind] = useState<"simulated" | "by_hand">("simulated");
  const [lots, setLots] = useState<"first_in_first_out" | "average">("first_in_first_out");
  const [deposit, setDeposit] = useState<number | null>(100_000);
  const change = useLedgerChange();
  const open = () =>
    change.mutate(
      () =>
        ledger.open({
          name: name.trim(),
          currency: (currency ?? base).trim().toUpperCase(),
          kind,
          lots,
          deposit: deposit ?? 0,
        }),
      { onSuccess: () => !first && close?.() },
    );
  return (
    <form
      aria-label="New account"
      onSubmit={(e) => {
        e.preventDefault();
        open();
      }}
    >
      <DialogTitle>{first ? "Open an account first" : "A new account"}</DialogTitle>
      <DialogContent sx={{ display: "flex", flexDirection: "column", gap: 2, pt: "8px !important" }}>
        <Typography variant="body2" color="textSecondary">
          {kind === "simulated"
            ? "Orders of a simulated account are worked session by session as the market would: limits, part fills, fees, dividends, splits."
            : "You record what happened at your broker: trades, income, prices of anything. Nothing happens by itself."}
        </Typography>
        {change.error && (
          <Alert severity="warning" variant="outlined" icon={false}>
            {change.error.message}
          </Alert>
        )}
        <TextField label="Name" autoFocus required value={name} onChange={(e) => setName(e.target.value)} />
        <TextField select label="Kept" value={kind} onChange={(e) => setKind(e.target.value as typeof kind)}>
          <MenuItem value="simulated">by the simulated broker</MenuItem>
          <MenuItem value="by_hand">by hand</MenuItem>
        </TextField>
        <TextField
          label="Currency"
          value={currency ?? base}
          onChange={(e) => setCurrency(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 3 } }}
        />
        <TextField select label="Sales take" value={lots} onChange={(e) => setLots(e.target.value as typeof lots)}>
          <MenuItem value="first_in_first_out">the oldest lots first</MenuItem>
          <MenuItem value="average">from one pool at average cost</MenuItem>
        </TextField>
        <NumberField label="First deposit" value={deposit} set={setDeposit} unit={currency ?? base} width="100%" />
      </DialogContent>
      <DialogActions sx={{ px: 3 }}>
        {close && <Button onClick={close}>Cancel</Button>}
        <Button type="submit" variant="contained" disabled={name.trim() === "" || change.isPending}>
          Open the account
        </Button>
      </DialogActions>
    </form>
  );
}
