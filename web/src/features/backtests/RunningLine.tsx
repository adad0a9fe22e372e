// How far a backtest has come, and a way to end it.
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { backtests, type Running, useBacktestsChange } from "../../api/backtests";

export function RunningLine({ id, running }: { id: string; running: Running | undefined }) {
  const change = useBacktestsChange<void>();
  return (
    <Paper role="status" sx={{ p: 2, my: 1.5, display: "flex", alignItems: "center", gap: 2 }}>
      <Typography variant="body2" sx={{ minWidth: 240 }}>
        {running ? `Being worked out: ${running.doing}` : "Waits for its turn"}
      </Typography>
      <LinearProgress
        aria-label="How much is done"
        variant={running ? "determinate" : "indeterminate"}
        value={100 * (running?.share ?? 0)}
        sx={{ flex: 1 }}
      />
      <Button onClick={() => change.mutate(() => backtests.cancel(id))} disabled={change.isPending}>
        Cancel
      </Button>
    </Paper>
  );
}
