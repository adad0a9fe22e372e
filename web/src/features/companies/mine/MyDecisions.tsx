// What was decided about the company: each opens then and now.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useDecisions } from "../../../api/decisions";
import { useAsOf } from "../../../headless/asOf";
import { day, signed } from "../../../headless/format";
import { DecisionSheet } from "../../ledger/decisions/DecisionSheet";
import { CHOICES } from "../../ledger/decisions/words";

export default function MyDecisions({ symbol }: { symbol: string }) {
  const [asOf] = useAsOf();
  const all = useDecisions({ as_of: asOf ?? null, index: null, symbol }).data?.decisions ?? [];
  const [opened, open] = useState<string | null>(null);
  if (all.length === 0) return null;
  return (
    <Box component="section" aria-label="My decisions" sx={{ mt: 2, maxWidth: 720 }}>
      <Typography variant="h3">My decisions</Typography>
      {all.map((d) => (
        <Box key={d.id} sx={{ display: "flex", gap: 1.5, alignItems: "baseline", py: 0.4 }}>
          <Button onClick={() => open(d.id)} sx={{ flexShrink: 0 }}>
            {CHOICES[d.choice]}, {day(d.decided_on)}
          </Button>
          <span className="serif">{d.thesis.split("\n")[0]}</span>
          <Box sx={{ flex: 1 }} />
          {d.share_since != null && <Box sx={{ whiteSpace: "nowrap" }}>{signed(d.share_since)} since</Box>}
        </Box>
      ))}
      {opened && <DecisionSheet id={opened} asOf={asOf} index={null} close={() => open(null)} />}
    </Box>
  );
}
