// What may stand at the caret of a formula: measures, items and functions that begin with or contain the word there.
import type { Measure, OwnMeasure } from "../api/client";
import { familyName } from "./families";

export interface Completion {
  /** What is written. */
  text: string;
  label: string;
  hint: string;
}

const FUNCTIONS: [string, string][] = [
  ["fy(", "x of k fiscal years ago: fy(revenue, 3)"],
  ["fy_average(", "mean of the last n fiscal years"],
  ["fy_median(", "median of the last n fiscal years"],
  ["fy_growth(", "compound growth over n fiscal years"],
  ["fy_trend(", "fitted growth over n fiscal years"],
  ["fy_rises(", "how many of n comparisons are rises"],
  ["fy_count(", "in how many of n fiscal years a condition holds"],
  ["q(", "x of the k-th newest quarter"],
  ["q_yoy(", "the k-th newest quarter against the year before"],
  ["q_average(", "mean of the newest n quarters"],
  ["q_count(", "in how many of n quarters a condition holds"],
  ["own_rank(", "place in the own history: own_rank(pe, 10y)"],
  ["own_median(", "median of the own history"],
  ["own_low(", "lowest of the own history"],
  ["own_high(", "highest of the own history"],
  ["own_z(", "distance from the own mean in standard deviations"],
  ["rank_in(", "place among peers: rank_in(roe, sector)"],
  ["median_in(", "median of the peers: median_in(pe, industry)"],
  ["ago(", "the same at an earlier date: ago(pe, 1y)"],
  ["change_of(", "change since an earlier date"],
  ["if(", "one of two answers: if(condition, a, b)"],
  ["else(", "what stands in where x is undefined: else(x, 0)"],
  ["defined(", "whether x is defined"],
  ["min(", "the smallest"],
  ["max(", "the largest"],
  ["round(", "rounded to n decimals"],
  ["abs(", "without its sign"],
];

/** The word that ends at the caret. */
export function wordAt(text: string, caret: number): string {
  return /[a-z][a-z_0-9]*$/i.exec(text.slice(0, caret))?.[0] ?? "";
}

const MOST = 8;

export function completions(word: string, measures: Measure[], own: OwnMeasure[]): Completion[] {
  if (word.length < 2) return [];
  const all: Completion[] = [
    ...own.map((m) => ({ text: m.id, label: m.label, hint: m.note || "your own measure" })),
    ...measures.map((m) => ({ text: m.params.length ? m.example : m.id, label: m.label, hint: familyName(m.family) })),
    ...FUNCTIONS.map(([text, hint]) => ({ text, label: "", hint })),
  ];
  const low = word.toLowerCase();
  const rank = (c: Completion) => {
    const text = c.text.toLowerCase();
    if (text === low) return 0;
    if (text.startsWith(low)) return 1;
    if (text.includes(low)) return 2;
    return c.label.toLowerCase().includes(low) ? 3 : 9;
  };
  return all
    .map((c) => ({ c, r: rank(c) }))
    .filter(({ c, r }) => r < 9 && c.text !== word)
    .sort((a, b) => a.r - b.r || a.c.text.length - b.c.text.length)
    .slice(0, MOST)
    .map(({ c }) => c);
}

/** Positions in formulas count bytes of UTF-8; texts in the browser count UTF-16 units. */
export function fromBytes(text: string, bytes: number): number {
  let counted = 0;
  let at = 0;
  for (const letter of text) {
    if (counted >= bytes) break;
    counted += new TextEncoder().encode(letter).length;
    at += letter.length;
  }
  return at;
}
