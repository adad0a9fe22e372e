// Where sessions are read from: the demo world's own, or a server on this machine.
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useChooseFeed } from "../../api/queries";

export function FeedSource({ address }: { address: string | null }) {
  const [asked, ask] = useState<string | null>(null);
  const choose = useChooseFeed();
  const to = (source: string | null) => choose.mutate(source, { onSuccess: () => ask(null) });
  return (
    <>
      <Button size="small" onClick={() => ask(address ?? "http://127.0.0.1:8019")}>
        Source…
      </Button>
      {asked !== null && (
        <Dialog open onClose={() => ask(null)} fullWidth maxWidth="xs">
          <DialogTitle>Read sessions from</DialogTitle>
          <DialogContent>
            <Typography variant="body2" color="textSecondary">
              A server on this machine, such as the one that artemon feed starts. Packages that a script puts into the
              folder “incoming” of your data are taken without it.
            </Typography>
            <TextField
              label="Address"
              fullWidth
              autoFocus
              margin="dense"
              value={asked}
              error={choose.error !== null}
              helperText={choose.error?.message}
              onChange={(e) => ask(e.target.value)}
            />
          </DialogContent>
          <DialogActions>
            {address && <Button onClick={() => to(null)}>The demo world's own</Button>}
            <Button onClick={() => ask(null)}>Cancel</Button>
            <Button variant="contained" onClick={() => to(asked)}>
              Read from there
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}
