// The companies marked now: they follow the person from page to page.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import Typography from "@mui/material/Typography";
import { useNavigate } from "react-router";
import { useActions } from "../../headless/actions";
import { useAddress } from "../../headless/asOf";
import { dragCompanies } from "../../headless/dragged";
import { useListing } from "../../headless/listing";
import { useMarks } from "../../headless/marks";
import { useUndo } from "../../headless/undo";
import { tint } from "../../theme/theme";
import { MOST_COMPARED } from "../compare/most";

export function Tray() {
  const { marked, toggle, clear, restore, stepThrough } = useMarks();
  const did = useUndo((s) => s.did);
  const navigate = useNavigate();
  const address = useAddress();
  const step = () => {
    const first = marked[0];
    if (!first) return;
    stepThrough(marked.map((m) => m.symbol));
    navigate(address(`/companies/${first.symbol}`));
  };
  const compare = () => navigate(address(`/compare?symbols=${marked.map((m) => m.symbol).join()}`));
  const ask = useListing((s) => s.ask);
  const list = () => ask(marked, "the tray");
  const comparable = marked.length > 1 && marked.length <= MOST_COMPARED;
  const clearAll = () => {
    clear();
    const removed = `${marked.length} marks cleared`;
    did({ what: "marks", removed, undo: () => restore(marked), redo: clear });
  };
  useActions(
    marked.length === 0
      ? []
      : [
          { label: "Put the marked companies on a list", run: list },
          ...(comparable ? [{ label: "Compare the marked companies", run: compare }] : []),
          { label: "Step through the marked companies", run: step },
          { label: "Clear all marks", run: clearAll },
        ],
    "everywhere",
  );
  return (
    <Box
      component="footer"
      className="not-on-paper"
      aria-label="Marked companies"
      sx={{
        height: 40,
        flexShrink: 0,
        px: 2,
        display: "flex",
        alignItems: "center",
        gap: 1,
        bgcolor: tint("tray"),
        borderTop: `1px solid ${tint("hairline")}`,
      }}
    >
      <Typography variant="body2" color="textSecondary" sx={{ whiteSpace: "nowrap" }}>
        Marked {marked.length}
      </Typography>
      <Box sx={{ flex: 1, display: "flex", gap: 1, overflowX: "auto", py: 0.5 }}>
        {marked.map((m) => (
          <Chip
            key={m.symbol}
            label={m.name}
            size="small"
            variant="outlined"
            {...dragCompanies({ companies: [m], found: "the tray" })}
            onClick={() => navigate(address(`/companies/${m.symbol}`))}
            onDelete={() => toggle([m])}
            sx={{ borderRadius: 1, borderColor: tint("brass"), bgcolor: tint("brassWash"), fontWeight: 500 }}
          />
        ))}
      </Box>
      <Button onClick={list} sx={{ whiteSpace: "nowrap" }}>
        Add to a list
      </Button>
      {comparable && <Button onClick={compare}>Compare</Button>}
      <Button onClick={step} sx={{ whiteSpace: "nowrap" }}>
        Step through
      </Button>
      <Button onClick={clearAll} sx={{ color: tint("second") }}>
        Clear
      </Button>
    </Box>
  );
}
