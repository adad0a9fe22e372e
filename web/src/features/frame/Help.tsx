// All shortcuts, and whether single keys do anything.
import Box from "@mui/material/Box";
import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import { useState } from "react";
import { CONTROL_KEYS, KeyList, keysOf } from "../../components/KeyList";
import { actionsNow, usePreferences } from "../../headless/actions";

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
            <KeyList title="Everywhere" keys={keysOf(now.everywhere)} />
          </Box>
          <Box sx={{ display: "grid", gap: 2, alignContent: "start" }}>
            <KeyList title="Here" keys={keysOf(now.here)} />
            <KeyList title="In tables and on charts" keys={CONTROL_KEYS} />
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
