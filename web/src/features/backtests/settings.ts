// Settings of a backtest as a form holds them.
import type { Backtest } from "../../api/backtests";
import type { Schemas } from "../../api/client";

export type Benchmark = Schemas["Benchmark"];
export type ExitRule = Schemas["ExitRule"];

export const EVERY = [
  [1, "every month"],
  [3, "every three months"],
  [6, "every six months"],
  [12, "every year"],
] as const;

/** A benchmark as one word of a choice, and back. */
export const benchmarkWord = (b: Benchmark | undefined): string =>
  b === undefined || typeof b === "string" ? (b ?? "universe_equal") : `index:${b.index}`;

export const benchmarkOf = (word: string): Benchmark =>
  word.startsWith("index:") ? { index: word.slice(6) } : (word as "universe_equal" | "universe_cap");

/** The rule of an exit; none where it holds to the next rebalance. */
export const ruleOf = (exit: Backtest["exit"]): ExitRule | null =>
  exit === undefined || typeof exit === "string" ? null : exit;

/** What stands in a field that is left empty is not sent. */
export function cleaned(of: Backtest): Backtest {
  const { by, top, max_weight, ...rest } = of;
  return {
    ...rest,
    ...(by?.trim() && { by: by.trim() }),
    ...(top != null && { top }),
    ...(max_weight != null && of.weights === "market_cap" && { max_weight }),
  };
}
