// A decision without an order: looked at and put away for now, or kept.
import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { type Choice, decisions, type Reasons } from "../../../api/decisions";
import { useLedgerChange } from "../../../api/ledger";
import { useDeciding } from "../../../headless/deciding";
import { useDraft } from "../../../headless/draft";
import { ReasonsFields } from "./ReasonsFields";
import { NO_REASONS, tidy } from "./words";

const TITLES: Record<Choice, string> = {
  not_now: "Put away for now",
  keep: "Keep",
  buy: "Buy",
  sell: "Sell",
};

const WHY: Partial<Record<Choice, string>> = {
  not_now: "What was seen today is kept with it; later you see what it would have brought, and what not acting cost.",
  keep: "What was seen today is kept with it, to be held against what comes.",
};

export function DecisionForm() {
  const { symbol, choice, close } = useDeciding();
  if (!symbol) return null;
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <Fields key={`${symbol} ${choice}`} symbol={symbol} choice={choice} close={close} />
    </Dialog>
  );
}

function Fields({ symbol, choice, close }: { symbol: string; choice: Choice; close: () => void }) {
  const [reasons, setReasons, letGo] = useDraft<Reasons>(`decision:${symbol}:${choice}`, NO_REASONS);
  const change = useLedgerChange<Schemas["Decided"]>();
  return (
    <form
      aria-label="Decision"
      onSubmit={(e) => {
        e.preventDefault();
        change.mutate(() => decisions.decide({ symbol, choice, reasons: tidy(reasons) }), {
          onSuccess: () => {
            letGo();
            close();
          },
        });
      }}
    >
      <DialogTitle sx={{ pb: 0.5 }}>
        {TITLES[choice]} <span className="faint light">{symbol}</span>
      </DialogTitle>
      <DialogContent>
        <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>
          {WHY[choice]}
        </Typography>
        {change.error && (
          <Alert severity="warning" variant="outlined" icon={false} sx={{ mb: 2 }}>
            {change.error.message}
          </Alert>
        )}
        <ReasonsFields reasons={reasons} set={(to) => setReasons({ ...reasons, ...to })} choice={choice} />
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        <Button type="submit" variant="contained" disabled={change.isPending}>
          Write it down
        </Button>
      </DialogActions>
    </form>
  );
}
