// Where bars and prices stand in the picture, in pixels. A view is a stretch of bars; equal changes of price are equally tall.
import { monthsAfter } from "../../../headless/days";
import type { Schemas } from "../../../api/client";

export type Price = Schemas["PriceAnswer"];
export type Month = Schemas["MonthPoint"];

/** The bars from `from` up to `to`, both counted from 0; they may lie between bars while one zooms. */
export interface View {
  from: number;
  to: number;
}

export interface Frame {
  width: number;
  /** Of the price alone. */
  height: number;
  view: View;
  /** The middle of a bar. */
  x: (bar: number) => number;
  /** Which bar is at a place, at least the first and at most the last. */
  bar: (x: number) => number;
  y: (price: number) => number;
  priceAt: (y: number) => number;
  /** Pixels from bar to bar. */
  step: number;
  /** The first and the last bar in view. */
  first: number;
  last: number;
}

export const EDGE = { left: 8, right: 58, top: 10, bottom: 2 };

/** A value this many times off the prices in view is left out of view; the band around it may always leave it. */
const FAR = 2;

export function frameOf(price: Price, months: Month[], view: View, width: number, height: number): Frame {
  const count = price.dates.length;
  const plot = width - EDGE.left - EDGE.right;
  const step = plot / Math.max(view.to - view.from, 1);
  const x = (bar: number) => EDGE.left + (bar - view.from + 0.5) * step;
  const inside = (bar: number) => Math.min(Math.max(bar, 0), count - 1);
  const bar = (at: number) => inside(Math.floor((at - EDGE.left) / step + view.from));
  const [first, last] = [inside(Math.floor(view.from)), inside(Math.ceil(view.to) - 1)];
  const [low, high] = reach(price, months, first, last);
  const [bottom, top] = [Math.log(low), Math.log(high)];
  const room = height - EDGE.top - EDGE.bottom;
  const y = (p: number) => EDGE.top + ((top - Math.log(p)) / (top - bottom)) * room;
  const priceAt = (at: number) => Math.exp(top - ((at - EDGE.top) / room) * (top - bottom));
  return { width, height, view, x, bar, y, priceAt, step, first, last };
}

/** The lowest and the highest price in view, and the value where it is not far away, with some room. */
function reach(price: Price, months: Month[], first: number, last: number): [number, number] {
  let [low, high] = [Number.POSITIVE_INFINITY, 0];
  for (let i = first; i <= last; i++) {
    low = Math.min(low, price.low[i] || Number.POSITIVE_INFINITY);
    high = Math.max(high, price.high[i] ?? 0);
  }
  const [floor, ceiling] = [low / FAR, high * FAR];
  const [start, end] = [price.dates[first] ?? "", price.dates[last] ?? ""];
  for (const month of months) {
    if (month.date < start || month.date > end) continue;
    const { value } = month;
    if (value != null && value > floor && value < ceiling) [low, high] = [Math.min(low, value), Math.max(high, value)];
  }
  const room = (high / low) ** 0.05;
  return low < high ? [low / room, high * room] : [low * 0.9, high * 1.1];
}

/** The number of bars up to a day: where it stands, or would. */
export function barOn(dates: string[], day: string): number {
  let [low, high] = [0, dates.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((dates[middle] ?? "") < day) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The last so many months. */
export function viewOf(dates: string[], months: number): View {
  const from = monthsAfter(dates.at(-1) ?? "", -months);
  return { from: Math.max(barOn(dates, from), 0), to: dates.length };
}

/** Bars that are in view at least. */
const FEWEST = 12;

/** Kept within the bars, with at least some of them. */
export function within(view: View, count: number): View {
  const width = Math.min(Math.max(view.to - view.from, FEWEST), count);
  const from = Math.min(Math.max(view.from, 0), count - width);
  return { from, to: from + width };
}

/** Nearer or farther around a bar. */
export function zoomed({ from, to }: View, by: number, around: number, count: number): View {
  return within({ from: around - (around - from) * by, to: around + (to - around) * by }, count);
}

/** Round prices for the axis: 1, 2 or 5 times a power of ten, so many that they have room. */
export function ticks(low: number, high: number): number[] {
  const rough = (high - low) / 5;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= rough) ?? rough;
  const out: number[] = [];
  for (let at = Math.ceil(low / step) * step; at <= high; at += step) out.push(at);
  return out;
}
