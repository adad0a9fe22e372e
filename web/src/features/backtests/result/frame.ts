// Where days and values stand in the pictures of a backtest.
import type { Outcome } from "../../../api/backtests";

/** A picture is as wide as there is room, on narrower paper too. */
export const WHOLE = { display: "block", maxWidth: "100%", height: "auto" } as const;

export const LEFT = 44;
export const RIGHT = 92;

const DAY_MS = 86_400_000;
const at = (iso: string): number => Date.parse(iso) / DAY_MS;

/** Pixels of days between the first and the last. */
export function alongDays(outcome: Outcome, width: number): (iso: string) => number {
  const [first, last] = [at(outcome.first), at(outcome.last)];
  const wide = Math.max(width - LEFT - RIGHT, 1);
  return (iso) => LEFT + ((at(iso) - first) / Math.max(last - first, 1)) * wide;
}

/** The first of January of each year between the first and the last day. */
export function newYears(outcome: Outcome): string[] {
  const [first, last] = [Number(outcome.first.slice(0, 4)), Number(outcome.last.slice(0, 4))];
  return Array.from({ length: last - first }, (_, i) => `${first + 1 + i}-01-01`);
}

/** Round values between two on a logarithmic axis. */
export function logTicks(low: number, high: number): number[] {
  const all = [-5, -4, -3, -2, -1, 0, 1, 2, 3].flatMap((power) =>
    [1, 1.5, 2, 3, 5, 7].map((m) => Number(`${m}e${power}`)),
  );
  const within = all.filter((v) => v >= low && v <= high);
  // With much room fewer suffice.
  return within.length > 7 ? within.filter((v) => [1, 2, 5].includes(Number(v.toExponential().split("e")[0]))) : within;
}

/** Values by week: a pixel shows no more. */
export function thinned<T>(all: T[], most = 800): { value: T; i: number }[] {
  const step = Math.max(1, Math.ceil(all.length / most));
  return all.flatMap((value, i) => (i % step === 0 || i === all.length - 1 ? [{ value, i }] : []));
}

/** The share lost since the highest value before. */
export function falls(values: number[]): number[] {
  let peak = values[0] ?? 1;
  return values.map((v) => {
    peak = Math.max(peak, v);
    return v / peak - 1;
  });
}

/** Stretches in which a fall was this deep at some time, from its peak to its end. */
export function deepFalls(values: number[], deep: number): [number, number][] {
  const out: [number, number][] = [];
  let from = 0;
  let isDeep = false;
  falls(values).forEach((fall, i, all) => {
    if (fall < -deep) isDeep = true;
    if (fall === 0 || i === all.length - 1) {
      if (isDeep) out.push([from, i]);
      from = i;
      isDeep = false;
    }
  });
  return out;
}
