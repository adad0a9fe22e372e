// Which sections of Today are shown, and in which order.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import type { Schemas } from "../../api/client";
import { tint } from "../../theme/theme";

type Layout = Schemas["TodayLayout"];

const NAMES: Record<string, string> = {
  under: "Under the price you would pay",
  alerts: "Alerts",
  ledger: "Orders and holdings",
  insiders: "Insiders bought",
  lows: "At a yearly low, and sound",
  screens: "Your screens",
  movers: "Moved most, and why",
  verdicts: "New flags, changed verdicts",
  coming: "Coming up",
  market: "The market against its own past",
};

interface Props {
  layout: Layout;
  save: (to: Layout) => void;
  close: () => void;
}

export function Arrange({ layout, save, close }: Props) {
  const move = (at: number, by: number) => {
    const order = [...layout.order];
    const [name] = order.splice(at, 1);
    if (name) order.splice(at + by, 0, name);
    save({ ...layout, order });
  };
  const show = (name: string, shown: boolean) =>
    save({ ...layout, hidden: shown ? layout.hidden.filter((h) => h !== name) : [...layout.hidden, name] });
  return (
    <Dialog open onClose={close} fullWidth maxWidth="xs">
      <DialogTitle>Arrange Today</DialogTitle>
      <DialogContent>
        <Box component="ol" sx={{ listStyle: "none", m: 0, p: 0 }}>
          {layout.order.map((name, i) => (
            <Box
              component="li"
              key={name}
              sx={{ display: "flex", alignItems: "center", borderBottom: `1px solid ${tint("hairline")}` }}
            >
              <Checkbox
                checked={!layout.hidden.includes(name)}
                onChange={(e) => show(name, e.target.checked)}
                slotProps={{ input: { "aria-label": NAMES[name] ?? name } }}
              />
              <Box sx={{ flex: 1 }}>{NAMES[name]}</Box>
              <Button disabled={i === 0} onClick={() => move(i, -1)} aria-label={`${NAMES[name]}: up`}>
                Up
              </Button>
              <Button
                disabled={i === layout.order.length - 1}
                onClick={() => move(i, 1)}
                aria-label={`${NAMES[name]}: down`}
              >
                Down
              </Button>
            </Box>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={close} variant="contained">
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}
