// All shortcuts, and whether single keys do anything.
import Box from "@mui/material/Box";
import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { type Action, actionsNow, keysInWords, usePreferences } from "../../headless/actions";

/** What the controls themselves do with keys. */
const CONTROLS: [string, string][] = [
  ["arrows, Page, Home, End", "walk the cells of a table; with Shift select rows"],
  ["Enter", "open the cell: a company, or a figure"],
  ["Space", "mark the selected rows"],
  ["Ctrl C", "copy the selected rows for a spreadsheet"],
  ["↓ on a header", "sort, group, move, widen, pin or hide the column"],
  ["← →", "move a bound or a slider"],
];

const named = (actions: Action[]): [string, string][] =>
  actions.flatMap((a) => (a.keys && a.label ? [[keysInWords(a.keys), a.label]] : []));

export function Help({ close }: { close: () => void }) {
  // Those of the place from which it was opened.
  const [now] = useState(actionsNow);
  const { singleKeys, set } = usePreferences();
  return (
    <Dialog open onClose={close} maxWidth="md">
      <DialogTitle>Shortcuts</DialogTitle>
      <DialogContent>
        <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", md: "1fr 1fr" }, columnGap: 5, rowGap: 2 }}>
          <Box>
            <Keys title="Everywhere" keys={named(now.everywhere)} />
          </Box>
          <Box sx={{ display: "grid", gap: 2, alignContent: "start" }}>
            <Keys title="Here" keys={named(now.here)} />
            <Keys title="In tables and on charts" keys={CONTROLS} />
          </Box>
        </Box>
        <FormControlLabel
          sx={{ mt: 2 }}
          control={<Switch checked={singleKeys} onChange={(e) => set({ singleKeys: e.target.checked })} />}
          label="Single-key shortcuts"
        />
      </DialogContent>
    </Dialog>
  );
}

function Keys({ title, keys }: { title: string; keys: [string, string][] }) {
  if (keys.length === 0) return null;
  return (
    <Box>
      <Typography variant="h3" component="h2" sx={{ mb: 0.5 }}>
        {title}
      </Typography>
      <Box component="dl" sx={{ display: "grid", gridTemplateColumns: "130px 1fr", rowGap: 0.5, columnGap: 1, m: 0 }}>
        {keys.map(([key, what]) => (
          <Box key={key} sx={{ display: "contents" }}>
            <Typography component="dt" variant="body2" sx={{ fontWeight: 600 }}>
              {key}
            </Typography>
            <Typography component="dd" variant="body2" sx={{ m: 0 }}>
              {what}
            </Typography>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
