// On which terms the simulated broker works, and above which weights an order is warned of.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { ledger, useLedgerChange, useTerms } from "../../api/ledger";
import { Answered } from "../../components/Answered";
import { NumberField } from "../../components/NumberField";

type Terms = Schemas["LedgerTerms"];

const BROKER: [keyof Terms, string][] = [
  ["spread", "Spread, at market"],
  ["share_of_volume", "Of a session's volume, at most"],
  ["fee", "Fee of each fill"],
  ["minimum_fee", "at least"],
];

const LIMITS: [keyof Terms, string][] = [
  ["one_company", "One company"],
  ["one_sector", "One sector"],
  ["one_currency", "One currency"],
];

export function TermsForm({ close }: { close: () => void }) {
  return (
    <>
      <DialogTitle>Terms and limits</DialogTitle>
      <Answered answer={useTerms()} rows={4}>
        {(kept) => <Fields kept={kept} close={close} />}
      </Answered>
    </>
  );
}

function Fields({ kept, close }: { kept: Terms; close: () => void }) {
  const [terms, setTerms] = useState(kept);
  const change = useLedgerChange<void>();
  const field = ([key, label]: [keyof Terms, string]) => (
    <NumberField
      key={key}
      label={label}
      value={terms[key]}
      set={(to) => setTerms({ ...terms, [key]: to ?? 0 })}
      width="100%"
      {...(key === "minimum_fee" ? {} : { of: "percent" as const })}
    />
  );
  return (
    <form
      aria-label="Terms and limits"
      onSubmit={(e) => {
        e.preventDefault();
        change.mutate(() => ledger.saveTerms(terms), { onSuccess: close });
      }}
    >
      <DialogContent sx={{ pt: 0 }}>
        {change.error && (
          <Alert severity="warning" variant="outlined" icon={false} sx={{ mb: 1 }}>
            {change.error.message}
          </Alert>
        )}
        <Typography variant="h3">The simulated broker, from the next session on</Typography>
        <Box sx={TWO}>{BROKER.map(field)}</Box>
        <Typography variant="h3" sx={{ mt: 2 }}>
          Warn of an order above
        </Typography>
        <Box sx={TWO}>{LIMITS.map(field)}</Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        <Button type="submit" variant="contained" disabled={change.isPending}>
          Keep them
        </Button>
      </DialogActions>
    </form>
  );
}

const TWO = { display: "grid", gridTemplateColumns: "1fr 1fr", gap: 2, mt: 1.5 };
