// Sharing something: the link, who can use it, and taking it back.
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { people, useChange, useShares } from "../../api/people";
import { CopyButton } from "../../components/CopyButton";
import { moment } from "../../headless/format";
import { useSharing } from "../../headless/sharing";

export function ShareDialog() {
  const thing = useSharing((s) => s.thing);
  const close = useSharing((s) => s.close);
  const shares = useShares();
  const share = useChange(() => people.share(thing?.kind ?? "document", thing?.id ?? ""), "shares");
  const back = useChange(people.takeBack, "shares");
  if (!thing) return null;
  const shared = shares.data?.find((s) => s.kind === thing.kind && s.id === thing.id);
  const problem = share.error ?? back.error ?? shares.error;
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>Share {thing.name}</DialogTitle>
      <DialogContent>
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
          {shared
            ? `Shared since ${moment(shared.shared_at)}. Everybody who can sign in here and has the link reads it as you see it, and may take a copy. Nobody changes yours.`
            : "Nobody else sees it now. With a link everybody who can sign in here can read it as you see it, and take a copy. Nobody changes yours, and you can take it back at any time."}
        </Typography>
        {shared && (
          <TextField
            label="Link"
            value={shared.link}
            fullWidth
            margin="dense"
            slotProps={{
              htmlInput: { readOnly: true, onFocus: (e: { target: HTMLInputElement }) => e.target.select() },
            }}
          />
        )}
        {problem && (
          <Typography role="alert" variant="body2" color="error">
            {problem.message}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        {shared && (
          <Button loading={back.isPending} onClick={() => back.mutate(shared.token)} sx={{ mr: "auto" }}>
            Take it back
          </Button>
        )}
        <Button onClick={close}>Close</Button>
        {shared ? (
          <CopyButton variant="contained" text={shared.link} label="Copy the link" />
        ) : (
          <Button variant="contained" loading={share.isPending} onClick={() => share.mutate()}>
            Share by a link
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}
