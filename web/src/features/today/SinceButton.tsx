// Since when things are told: the last visit, or any day.
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { parseAsString, useQueryState } from "nuqs";
import { useState } from "react";
import { useAbout } from "../../api/queries";
import { DateField, outside } from "../../components/DateField";
import { MenuButton } from "../../components/menu/MenuButton";
import { STEP } from "../../headless/address";

const SINCE = parseAsString.withOptions(STEP);

/** A day so many days before another. */
function before(iso: string, days: number): string {
  const date = new Date(`${iso}T00:00:00Z`);
  date.setUTCDate(date.getUTCDate() - days);
  return date.toISOString().slice(0, 10);
}

export function SinceButton({ since, asOf }: { since: string; asOf: string }) {
  const [, set] = useQueryState("since", SINCE);
  const [asking, ask] = useState<string | null>(null);
  const about = useAbout().data;
  const first = about?.first_day ?? undefined;
  const to = (days: number) => () => void set(before(asOf, days));
  return (
    <>
      <MenuButton
        label="Since…"
        means="Since when things are told"
        items={[
          { label: "Since I last looked", run: () => void set(null) },
          { label: "The last day", run: to(1) },
          { label: "The last week", run: to(7) },
          { label: "The last month", run: to(30) },
          { label: "Another day…", run: () => ask(since) },
        ]}
      />
      {asking !== null && (
        <Dialog open onClose={() => ask(null)} fullWidth maxWidth="xs">
          <DialogTitle>What happened after…</DialogTitle>
          <DialogContent sx={{ pt: "8px !important" }}>
            <DateField label="Day" value={asking} set={ask} first={first} last={asOf} />
          </DialogContent>
          <DialogActions>
            <Button onClick={() => ask(null)}>Cancel</Button>
            <Button
              variant="contained"
              disabled={asking === "" || outside(asking, first, asOf)}
              onClick={() => {
                void set(asking);
                ask(null);
              }}
            >
              Show
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}
