// Up to which day sessions are brought.
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { useState } from "react";
import { DateField } from "../../components/DateField";

interface Props {
  /** The session that comes next. */
  from: string | null;
  go: (until: string) => void;
}

export function ToDate({ from, go }: Props) {
  const [asked, ask] = useState<string | null>(null);
  return (
    <>
      <Button size="small" disabled={from === null} onClick={() => ask(from)}>
        To a day…
      </Button>
      {asked !== null && from !== null && (
        <Dialog open onClose={() => ask(null)} fullWidth maxWidth="xs">
          <DialogTitle>Sessions up to</DialogTitle>
          <DialogContent sx={{ pt: "8px !important" }}>
            <DateField label="Day" value={asked} set={ask} first={from} last={undefined} />
          </DialogContent>
          <DialogActions>
            <Button onClick={() => ask(null)}>Cancel</Button>
            <Button
              variant="contained"
              disabled={asked === "" || asked < from}
              onClick={() => {
                go(asked);
                ask(null);
              }}
            >
              Go on
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}
