// What one says of a company on a list: a note, the price to pay, how sound one thinks it is.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { NumberField } from "../../components/NumberField";
import { useDraft } from "../../headless/draft";
import { price } from "../../headless/format";
import type { Row } from "./columns";
import type { ListWork } from "./useListWork";

const SOUND = ["I, the soundest", "II", "III", "IV"];

interface Props {
  list: string;
  row: Row;
  work: ListWork;
  close: () => void;
}

export function MemberSheet({ list, row, work, close }: Props) {
  const kept = { note: row.own.note, price: row.own.price, mine: row.mine ?? null, reason: row.reason };
  const [said, say, letGo] = useDraft(`list.${list}.${row.symbol}`, kept);
  const [problem, setProblem] = useState<string | null>(null);
  const save = async () => {
    try {
      if (said.mine !== kept.mine || said.reason !== kept.reason) await work.judge(row.symbol, said.mine, said.reason);
      if (said.note !== kept.note || said.price !== kept.price)
        await work.say(list, row.symbol, { note: said.note, price: said.price });
      letGo();
      close();
    } catch (wrong) {
      setProblem((wrong as Error).message);
    }
  };
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>{row.name}</DialogTitle>
      <DialogContent sx={{ display: "flex", flexDirection: "column", gap: 2, pt: "8px !important" }}>
        {problem && (
          <Alert severity="warning" variant="outlined" icon={false}>
            {problem}
          </Alert>
        )}
        <TextField
          label="Note"
          multiline
          minRows={5}
          maxRows={14}
          autoFocus
          value={said.note}
          onChange={(e) => say({ ...said, note: e.target.value })}
        />
        <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap" }}>
          <NumberField
            label="Price to pay"
            value={said.price}
            set={(to) => say({ ...said, price: to })}
            of="per_share"
            unit={row.currency}
            width={190}
            {...(row.pay != null && row.own.price == null && { otherwise: `${price(row.pay)}, computed` })}
          />
          <TextField
            select
            label="Sound, I think"
            value={said.mine ?? ""}
            onChange={(e) => say({ ...said, mine: e.target.value === "" ? null : Number(e.target.value) })}
            sx={{ width: 150 }}
          >
            <MenuItem value="">as computed</MenuItem>
            {SOUND.map((name, i) => (
              <MenuItem key={name} value={i + 1}>
                {name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label="Because"
            value={said.reason}
            disabled={said.mine === null}
            onChange={(e) => say({ ...said, reason: e.target.value })}
            sx={{ flex: 1, minWidth: 180 }}
          />
        </Box>
      </DialogContent>
      <DialogActions>
        <Button
          onClick={() => {
            letGo();
            close();
          }}
        >
          Cancel
        </Button>
        <Button variant="contained" onClick={() => void save()}>
          Save
        </Button>
      </DialogActions>
    </Dialog>
  );
}
