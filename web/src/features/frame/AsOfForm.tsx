// Chooses the day as of which everything is computed.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useAbout } from "../../api/queries";
import { DateField, outside } from "../../components/DateField";
import { useAsOf } from "../../headless/asOf";

export function AsOfForm({ anchor, close }: { anchor: Element; close: () => void }) {
  const about = useAbout().data;
  const [asOf, setAsOf] = useAsOf();
  const first = about?.first_day ?? undefined;
  const last = about?.last_day ?? undefined;
  const [typed, setTyped] = useState(asOf ?? last ?? "");
  const wrong = outside(typed, first, last);
  const take = (day: string | undefined) => {
    setAsOf(day === last ? undefined : day);
    close();
  };
  return (
    <Popover
      open
      anchorEl={anchor}
      onClose={close}
      anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
      transformOrigin={{ vertical: "top", horizontal: "right" }}
    >
      <Box
        component="form"
        sx={{ p: 2, width: 300 }}
        onSubmit={(e) => {
          e.preventDefault();
          if (typed && !wrong) take(typed);
        }}
      >
        <Typography variant="body2" sx={{ mb: 1.5 }}>
          Everything is computed from what was public by the close of this day.
        </Typography>
        <DateField label="As known on" value={typed} set={setTyped} first={first} last={last} />
        <Box sx={{ display: "flex", justifyContent: "flex-end", gap: 1 }}>
          <Button onClick={() => take(undefined)}>Today</Button>
          <Button type="submit" variant="contained" disabled={!typed || wrong}>
            Set back
          </Button>
        </Box>
      </Box>
    </Popover>
  );
}
