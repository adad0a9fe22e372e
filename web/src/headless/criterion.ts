// Bounds as one edits and drags them. Sentences, and the reading of what is typed, are the server's.
import type { Unit } from "../api/client";

/** A bound as one edits it: percent in hundredths. */
export function showBound(x: number | null | undefined, unit: Unit | null | undefined): string {
  if (x === null || x === undefined) return "";
  return String(unit === "percent" ? Number((x * 100).toPrecision(8)) : Number(x.toPrecision(8)));
}

/** A round number near x, for dragged bounds: as fine as a hundredth of the axis. */
export function rounded(x: number, width: number, unit: Unit | null | undefined): number {
  if (unit === "count" || unit === "rank" || unit === "days") return Math.round(x);
  const step = 10 ** Math.floor(Math.log10(Math.max(width, 1e-9) / 100));
  return Number((Math.round(x / step) * step).toPrecision(10));
}
