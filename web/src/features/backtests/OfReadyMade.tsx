// What the ready-made screens came to on these data, beside their reasoning.
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { Link as RouterLink } from "react-router";
import { backtests, type Entry, useBacktests, useBacktestsChange } from "../../api/backtests";
import { signed } from "../../headless/format";
import { better } from "./result/words";

/** The newest backtest of a screen with an outcome. */
function newest(all: Entry[], screen: string): Entry | undefined {
  return all.find((b) => b.screen === screen && b.summary != null);
}

export function OfReadyMade({ screen }: { screen: string }) {
  const found = newest(useBacktests().data?.backtests ?? [], screen);
  if (!found?.summary) return null;
  const { excess, percentile, first } = found.summary;
  return (
    <Typography variant="body2" component="div">
      <Link component={RouterLink} to={`/backtests/${found.id}`}>
        Since {first.slice(0, 4)} {signed(excess)} a year over its benchmark, better than {better(percentile)}
      </Link>
    </Typography>
  );
}

/** Tests all that have not been tested yet. */
export function TestReadyMade({ ids }: { ids: { id: string; name: string }[] }) {
  const all = useBacktests().data?.backtests;
  const change = useBacktestsChange<void>();
  const missing = ids.filter((r) => all && !all.some((b) => b.screen === r.name));
  if (missing.length === 0) return null;
  const test = async () => {
    for (const { id } of missing) await backtests.ask(await backtests.proposed(id));
  };
  return (
    <Button onClick={() => change.mutate(test)} disabled={change.isPending}>
      Would they have worked? Test them in the past
    </Button>
  );
}
