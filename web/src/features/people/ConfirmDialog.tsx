// The passphrase, typed again before something that cannot be undone.
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { people } from "../../api/people";
import { usePresence } from "../../headless/presence";
import { PassphraseField } from "./PassphraseField";

export function ConfirmDialog({ asked }: { asked: (typed: boolean) => void }) {
  const [passphrase, setPassphrase] = useState("");
  const answer = (typed: boolean) => {
    usePresence.setState({ asked: null });
    asked(typed);
  };
  const confirm = useMutation({ mutationFn: () => people.confirm(passphrase), onSuccess: () => answer(true) });
  return (
    <Dialog open onClose={() => answer(false)} fullWidth maxWidth="xs">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          confirm.mutate();
        }}
      >
        <DialogTitle>Your passphrase again</DialogTitle>
        <DialogContent>
          <Typography variant="body2" color="textSecondary">
            What you are about to do opens doors or cannot be undone. It is asked for once in ten minutes.
          </Typography>
          <PassphraseField
            label="Passphrase"
            value={passphrase}
            set={setPassphrase}
            problem={confirm.error?.message}
            autoFocus
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={() => answer(false)}>Cancel</Button>
          <Button type="submit" variant="contained" loading={confirm.isPending}>
            Go on
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
