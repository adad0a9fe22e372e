// What may stand at the caret of a formula: measures, items and functions that begin with or contain the word there.
import type { FormulaFunction, Measure, OwnMeasure } from "../api/client";
import { familyName } from "./families";

export interface Completion {
  /** What is written. */
  text: string;
  label: string;
  hint: string;
}

/** The word that ends at the caret. */
export function wordAt(text: string, caret: number): string {
  return /[a-z][a-z_0-9]*$/i.exec(text.slice(0, caret))?.[0] ?? "";
}

const MOST = 8;

export function completions(
  word: string,
  measures: Measure[],
  own: OwnMeasure[],
  functions: FormulaFunction[],
): Completion[] {
  if (word.length < 2) return [];
  const all: Completion[] = [
    ...own.map((m) => ({ text: m.id, label: m.label, hint: m.note || "your own measure" })),
    ...measures.map((m) => ({ text: m.params.length ? m.example : m.id, label: m.label, hint: familyName(m.family) })),
    ...functions.map((f) => ({ text: `${f.name}(`, label: "", hint: `${f.meaning}: ${f.example}` })),
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
