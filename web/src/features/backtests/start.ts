// A backtest of what one looks at, begun with sensible settings at one key.
import { useNavigate } from "react-router";
import { backtests, type Entry, useBacktestsChange } from "../../api/backtests";
import type { Screen } from "../../api/client";

export interface Test {
  run: (screen: Screen, by?: string) => void;
  pending: boolean;
  error: Error | null;
}

/** Tests a screen in the past, and goes to what comes of it. */
export function useTest(): Test {
  const navigate = useNavigate();
  const change = useBacktestsChange<Entry>();
  const run: Test["run"] = (screen, by) =>
    change.mutate(async () => backtests.ask(await backtests.proposed(screen, by)), {
      onSuccess: (entry) => navigate(`/backtests/${entry.id}`),
    });
  return { run, pending: change.isPending, error: change.error };
}
