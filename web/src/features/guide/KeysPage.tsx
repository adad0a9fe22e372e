// Every shortcut that does the same everywhere; those of a place are told there.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { CONTROL_KEYS, KeyList, type KeyAndWords, keysOf } from "../../components/KeyList";
import { actionsNow } from "../../headless/actions";

export function KeysPage() {
  const [everywhere, set] = useState<KeyAndWords[]>([]);
  // The frame offers its actions once it is there.
  useEffect(() => set(keysOf(actionsNow().everywhere)), []);
  return (
    <Box sx={{ maxWidth: 760 }}>
      <Typography variant="h1">Shortcuts</Typography>
      <Typography variant="sentence" sx={{ mb: 2 }}>
        Everything can be done without a mouse. Each place has keys of its own: press ? there and they are told, with
        these. Single keys can be switched off in the same window.
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", md: "1fr 1fr" }, columnGap: 5, rowGap: 3 }}>
        <KeyList title="Everywhere" keys={everywhere} />
        <KeyList title="In tables and on charts" keys={CONTROL_KEYS} />
      </Box>
    </Box>
  );
}
