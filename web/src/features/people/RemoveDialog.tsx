// Removing somebody: what is theirs is deleted, or what others can work with is handed over.
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { type Person, people, useChange } from "../../api/people";
import { Problem } from "./Problem";

interface Props {
  person: Person;
  others: Person[];
  close: () => void;
}

const NOBODY = "";

export function RemoveDialog({ person, others, close }: Props) {
  const [heir, setHeir] = useState(NOBODY);
  const remove = useChange(() => people.remove(person.id, { hand_over_to: heir || null }), "persons");
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>Remove {person.name}</DialogTitle>
      <DialogContent>
        <Typography variant="body2" sx={{ mb: 1 }}>
          {person.name} is signed out at once and cannot come back. The ledger and decisions are deleted: they are a
          record of their own. This cannot be undone.
        </Typography>
        <RadioGroup aria-label="What becomes of the rest" value={heir} onChange={(e) => setHeir(e.target.value)}>
          <FormControlLabel
            value={NOBODY}
            control={<Radio size="small" />}
            label="Delete screens, lists, measures, notes, forecasts and backtests, too"
          />
          {others.map((o) => (
            <FormControlLabel
              key={o.id}
              value={o.id}
              control={<Radio size="small" />}
              label={`Hand them over to ${o.me ? "me" : o.name}`}
            />
          ))}
        </RadioGroup>
        <Problem error={remove.error} />
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        <Button
          variant="contained"
          color="error"
          loading={remove.isPending}
          onClick={() => remove.mutate(undefined, { onSuccess: close })}
        >
          Remove {person.name}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
