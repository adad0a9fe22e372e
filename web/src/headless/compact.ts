// What the server sends as lists, with its names again.
import type { Figure, OwnRange, Schemas, Spread } from "../api/client";

export function rangeOf(list: number[] | null | undefined): OwnRange | null {
  if (!list) return null;
  const [low = 0, lower_quartile = 0, median = 0, upper_quartile = 0, high = 0, today = 0, rank = 0] = list;
  return { low, lower_quartile, median, upper_quartile, high, today, rank, months: 0 };
}

export function spreadOf(compact: Schemas["CompactSpread"] | null | undefined): Spread | null {
  if (!compact) return null;
  const [price = 0, value = 0, low = 0, high = 0, buy_below = 0] = compact.marks;
  return { price, value, low, high, buy_below, kept: compact.kept, outliers: compact.outliers };
}

/** A cell of a row of figures. */
export const figureAt = (row: Schemas["Cells"], i: number): Figure => ({
  value: row.values[i] ?? null,
  reason: row.reasons?.[i] ?? null,
});
