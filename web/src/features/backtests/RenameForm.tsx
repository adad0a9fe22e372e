// Another name for a backtest.
import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { backtests, useBacktestsChange } from "../../api/backtests";

export function RenameForm({ id, name, close }: { id: string; name: string; close: () => void }) {
  const [to, setTo] = useState(name);
  const change = useBacktestsChange<void>();
  return (
    <Dialog open onClose={close} fullWidth maxWidth="xs">
      <form
        aria-label="Rename"
        onSubmit={(e) => {
          e.preventDefault();
          change.mutate(() => backtests.rename(id, to), { onSuccess: close });
        }}
      >
        <DialogTitle>Rename</DialogTitle>
        <DialogContent sx={{ pt: "8px !important" }}>
          {change.error && (
            <Alert severity="warning" variant="outlined" icon={false} sx={{ mb: 2 }}>
              {change.error.message}
            </Alert>
          )}
          <TextField label="Name" fullWidth autoFocus value={to} onChange={(e) => setTo(e.target.value)} />
        </DialogContent>
        <DialogActions sx={{ px: 3 }}>
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={change.isPending}>
            Rename
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
