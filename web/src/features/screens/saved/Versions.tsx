// Every saved version of a screen, what changed from one to another in words, and the way back.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas, Screen } from "../../../api/client";
import { useComparedScreens, useDocumentVersion } from "../../../api/queries";
import { moment } from "../../../headless/format";
import type { Edited } from "../useEdited";

interface Props {
  saved: Schemas["DocumentAnswer"];
  working: Edited;
  close: () => void;
}

/** The screen as it is on the page, among the versions. */
const NOW = 0;

export function Versions({ saved, working, close }: Props) {
  const { screen, edit, changed } = working;
  const [before, setBefore] = useState(changed ? saved.version : Math.max(1, saved.version - 1));
  const [after, setAfter] = useState(changed ? NOW : saved.version);
  const [then, now] = [useVersion(saved.id, before, screen), useVersion(saved.id, after, screen)];
  const differences = useComparedScreens(then, now).data;
  const choice = (label: string, value: number, set: (to: number) => void) => (
    <TextField select label={label} value={value} onChange={(e) => set(Number(e.target.value))} fullWidth>
      {changed && <MenuItem value={NOW}>as it is on the page, not saved</MenuItem>}
      {saved.versions.toReversed().map((v) => (
        <MenuItem key={v.version} value={v.version}>
          version {v.version}, {moment(v.saved_at)}
          {v.note && v.version === saved.version ? ` – ${v.note.split("\n")[0]}` : ""}
        </MenuItem>
      ))}
    </TextField>
  );
  const back = () => {
    if (then) edit(() => then, `Back to version ${before}`);
    close();
  };
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>Versions of {saved.name}</DialogTitle>
      <DialogContent>
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.5, pt: 1 }}>
          {choice("From", before, setBefore)}
          {choice("To", after, setAfter)}
        </Box>
        <Typography variant="h3" component="h3" sx={{ mt: 2, mb: 0.5 }}>
          What changed
        </Typography>
        {differences?.length === 0 && (
          <Typography variant="body2" color="textSecondary">
            Nothing: the two are the same.
          </Typography>
        )}
        <Box component="ul" aria-label="What changed" sx={{ m: 0, pl: 2.5 }}>
          {differences?.map((said) => (
            <Typography key={said} component="li" variant="body2">
              {said}
            </Typography>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button disabled={before === NOW || !then} onClick={back}>
          Go back to version {before === NOW ? "" : before}
        </Button>
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" onClick={close}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** A saved version, or the screen as it is on the page. */
function useVersion(id: string, version: number, page: Screen): Screen | undefined {
  const kept = useDocumentVersion(id, version);
  return version === NOW ? page : (kept.data?.body as Screen | undefined);
}
