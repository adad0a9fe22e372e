// Under which name, in which folder and with what note a screen is kept.
import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Naming } from "./saving";

interface Props {
  title: string;
  naming: Naming;
  /** Those there are. */
  folders: string[];
  save: (as: Naming) => Promise<void>;
  close: () => void;
}

const FOLDERS = "folders-of-screens";

export function SaveForm({ title, naming, folders, save, close }: Props) {
  const [as, setAs] = useState(naming);
  const [problem, setProblem] = useState<string | null>(null);
  const field = (key: keyof Naming) => ({
    value: as[key],
    onChange: (e: { target: { value: string } }) => setAs({ ...as, [key]: e.target.value }),
    fullWidth: true,
    margin: "dense" as const,
  });
  return (
    <Dialog open onClose={close} fullWidth maxWidth="xs">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          save(as).catch((wrong: Error) => setProblem(wrong.message));
        }}
      >
        <DialogTitle>{title}</DialogTitle>
        <DialogContent>
          <TextField label="Name" required autoFocus {...field("name")} />
          <TextField
            label="Folder"
            helperText="Folders within folders are parted by /; none is the top."
            slotProps={{ htmlInput: { list: FOLDERS } }}
            {...field("folder")}
          />
          <datalist id={FOLDERS}>
            {folders.map((f) => (
              <option key={f} value={f} />
            ))}
          </datalist>
          <TextField label="Note" multiline minRows={3} {...field("note")} />
          {problem && (
            <Alert severity="warning" variant="outlined" icon={false} sx={{ mt: 1 }}>
              {problem}
            </Alert>
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={!as.name.trim()}>
            Save
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
