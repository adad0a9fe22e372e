// Values along an axis: where they stand, and round numbers to stand beside it.

export interface Scale {
  low: number;
  high: number;
  ticks: number[];
  /** From 0 to 1; what lies outside stands at the edge. */
  at: (value: number) => number;
}

/** The value at a share of the way through, of values in order. */
const quantile = (sorted: number[], share: number): number => sorted[Math.round((sorted.length - 1) * share)] ?? 0;

/** Beyond these shares of all values an axis does not reach: a few far away must not push the others together. */
const WITHIN: [number, number] = [0.04, 0.96];

export function scaleOf(values: number[], most = 6): Scale {
  const sorted = values.toSorted((a, b) => a - b);
  const [first, last] = WITHIN.map((share) => quantile(sorted, share)) as [number, number];
  const step = roundStep((last - first) / most || Math.abs(last) / most || 1);
  const low = Math.floor(first / step) * step;
  const high = Math.max(Math.ceil(last / step) * step, low + step);
  const count = Math.round((high - low) / step);
  const ticks = Array.from({ length: count + 1 }, (_, i) => Number((low + i * step).toPrecision(12)));
  return { low, high, ticks, at: (v) => (Math.min(Math.max(v, low), high) - low) / (high - low) };
}

/** 1, 2 or 5 of some power of ten, not below a number. */
function roundStep(x: number): number {
  const power = 10 ** Math.floor(Math.log10(x));
  return power * ([1, 2, 5, 10].find((m) => m * power >= x * 0.999) ?? 10);
}

/** The rank of each value among all, from 0 to 1. */
export function ranks(values: (number | null | undefined)[]): (number | null)[] {
  const sorted = values.filter((v): v is number => typeof v === "number").toSorted((a, b) => a - b);
  const rank = new Map(sorted.map((v, i) => [v, sorted.length > 1 ? i / (sorted.length - 1) : 0.5]));
  return values.map((v) => (typeof v === "number" ? (rank.get(v) ?? null) : null));
}
