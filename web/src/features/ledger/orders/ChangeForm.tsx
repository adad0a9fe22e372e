// An order that works is changed: its limit, what is left of it, how long it works.
import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { ledger, useLedgerChange } from "../../../api/ledger";
import { NumberField } from "../../../components/NumberField";

interface Props {
  order: Schemas["OrderRow"];
  close: () => void;
}

export function ChangeForm({ order, close }: Props) {
  const [limit, setLimit] = useState<number | null>(order.limit ?? null);
  const [left, setLeft] = useState<number | null>(order.left);
  const [good, setGood] = useState(order.good);
  const change = useLedgerChange<void>();
  const dated = good !== "day" && good !== "until_cancelled";
  const asks = change.error?.message.endsWith("Is that meant?") ?? false;
  return (
    <Dialog open onClose={close} fullWidth maxWidth="xs">
      <form
        aria-label="Change the order"
        onSubmit={(e) => {
          e.preventDefault();
          change.mutate(() => ledger.change(order.order, { limit, left, good, sure: asks }), { onSuccess: close });
        }}
      >
        <DialogTitle>
          Change {order.order} <span className="faint light">{order.name}</span>
        </DialogTitle>
        <DialogContent sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 2, pt: "8px !important" }}>
          {change.error && (
            <Alert severity="warning" variant="outlined" icon={false} sx={{ gridColumn: "1 / -1" }}>
              {change.error.message}
            </Alert>
          )}
          {order.limit != null && (
            <NumberField
              label="Limit"
              value={limit}
              set={setLimit}
              of="per_share"
              unit={order.price_currency}
              width="100%"
            />
          )}
          <NumberField label="Shares left" value={left} set={setLeft} width="100%" />
          <TextField
            select
            label="Good"
            value={dated ? "date" : good}
            onChange={(e) => setGood(e.target.value === "date" ? "" : e.target.value)}
          >
            <MenuItem value="day">for the next session</MenuItem>
            <MenuItem value="date">until a day</MenuItem>
            <MenuItem value="until_cancelled">until cancelled</MenuItem>
          </TextField>
          {dated && (
            <TextField
              type="date"
              label="Until"
              value={good}
              onChange={(e) => setGood(e.target.value)}
              slotProps={{ inputLabel: { shrink: true } }}
            />
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>Leave it</Button>
          <Button type="submit" variant="contained" disabled={good === "" || change.isPending}>
            {asks ? "Yes, change it" : "Change it"}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
