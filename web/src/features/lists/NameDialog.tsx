// The name of a list, and its folder.
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../../api/client";

interface Props {
  list: Schemas["ListEntry"] | null;
  folders: string[];
  save: (name: string, folder: string) => Promise<void>;
  close: () => void;
  told: (problem: string) => void;
}

const FOLDERS = "folders-of-lists";

export function NameDialog({ list, folders, save, close }: Props) {
  const [name, setName] = useState(list?.name ?? "");
  const [folder, setFolder] = useState(list?.folder ?? "");
  const [problem, setProblem] = useState<string | null>(null);
  return (
    <Dialog open onClose={close} fullWidth maxWidth="xs">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          save(name.trim(), folder.trim()).catch((wrong: Error) => setProblem(wrong.message));
        }}
      >
        <DialogTitle>{list ? "Name and folder" : "A new list"}</DialogTitle>
        <DialogContent>
          <TextField
            label="Name"
            autoFocus
            required
            fullWidth
            margin="dense"
            value={name}
            error={problem !== null}
            helperText={problem}
            onChange={(e) => setName(e.target.value)}
          />
          <TextField
            label="Folder"
            fullWidth
            margin="dense"
            value={folder}
            helperText="Folders within folders are parted by /; none is the top."
            onChange={(e) => setFolder(e.target.value)}
            slotProps={{ htmlInput: { list: FOLDERS } }}
          />
          <datalist id={FOLDERS}>
            {folders.map((f) => (
              <option key={f} value={f} />
            ))}
          </datalist>
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={name.trim() === ""}>
            {list ? "Save" : "Make the list"}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
