// The families of measures as people call them.
import type { Measure } from "../api/client";

const NAMES: Partial<Record<Measure["family"], string>> = {
  owners_cash: "Owners' cash",
  balance: "Balance sheet",
  size: "Size and trading",
  income: "Income and margins",
  quarters: "Quarters and estimates",
  insiders: "Ownership and insiders",
  price: "Price behaviour",
  value: "Value",
};

export const familyName = (family: Measure["family"]): string =>
  NAMES[family] ?? `${family[0]?.toUpperCase()}${family.slice(1)}`;

/** Whether all of the words are in a text. */
export function hasWords(text: string, words: string): boolean {
  const low = text.toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((word) => low.includes(word));
}

/** Whether a measure is found by these words: in its id, name or meaning. */
export const found = (measure: { id: string; label: string; meaning: string }, words: string): boolean =>
  hasWords(`${measure.id} ${measure.label} ${measure.meaning}`, words);
