// What is shown of the price: bars, span, lines; in the address, so that the next company is shown the same way.
import { parseAsArrayOf, parseAsInteger, parseAsStringLiteral, useQueryStates } from "nuqs";

export const BARS = ["day", "week", "month"] as const;
export type Bars = (typeof BARS)[number];
export const BAR_NAMES: Record<Bars, string> = { day: "Daily", week: "Weekly", month: "Monthly" };

/** Spans in months. */
export const SPANS = { "3m": 3, "1y": 12, "3y": 36, "5y": 60, "10y": 120, "20y": 240 } as const;
export type Span = keyof typeof SPANS;
export const SPAN_NAMES: Record<Span, string> = {
  "3m": "three months",
  "1y": "a year",
  "3y": "three years",
  "5y": "five years",
  "10y": "ten years",
  "20y": "twenty years",
};

/** Pairs of averages, by bars. */
export const AVERAGES = {
  "50_200": [50, 200],
  "20_50": [20, 50],
  "10_40": [10, 40],
  "6_12": [6, 12],
  none: [],
} as const;

export const LANES = ["insiders", "results", "dividends", "news"] as const;
export type Lane = (typeof LANES)[number];

/** What averages a person who looks at such bars expects. */
export const usual: Record<Bars, number[]> = { day: [50, 200], week: [10, 40], month: [6, 12] };

const CHOSEN = {
  bars: parseAsStringLiteral(BARS).withDefault("week"),
  span: parseAsStringLiteral(Object.keys(SPANS) as Span[]).withDefault("3y"),
  /** Averages over so many bars; those that are usual when absent. */
  averages: parseAsArrayOf(parseAsInteger),
  /** Bars of the bands and of the strength; 0 for none. */
  bands: parseAsInteger.withDefault(0),
  strength: parseAsInteger.withDefault(0),
  against: parseAsStringLiteral(["index", "nothing"]).withDefault("nothing"),
  /** Lanes that are folded away. */
  folded: parseAsArrayOf(parseAsStringLiteral(LANES)).withDefault([]),
};

export const usePriceChoices = () => useQueryStates(CHOSEN);
