// Finding by words, as people call things.

/** Whether all of the words are in a text. */
export function hasWords(text: string, words: string): boolean {
  const low = text.toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((word) => low.includes(word));
}

/** What can be found: a measure, or a formula with its words. */
export interface Findable {
  id: string;
  label: string;
  meaning: string;
  /** What else the trade calls it. */
  synonyms?: string[];
}

/** How near words come to it: 0 begin its name, 1 are in it, 2 are what else it is called, 3 are in its meaning; null when not found. */
export function nearness({ id, label, meaning, synonyms = [] }: Findable, words: string): number | null {
  const asked = words.trim().toLowerCase();
  const [name, called] = [`${label} ${id}`, synonyms.join(" ")];
  if ([label, id].some((text) => text.toLowerCase().startsWith(asked))) return 0;
  if (hasWords(name, asked)) return 1;
  if (hasWords(`${name} ${called}`, asked)) return 2;
  return hasWords(`${name} ${called} ${meaning}`, asked) ? 3 : null;
}

/** Of what else it is called what was asked for, where its own words are not. */
export function calledSo({ label, id, synonyms = [] }: Findable, words: string): string | undefined {
  return hasWords(`${label} ${id}`, words) ? undefined : synonyms.find((name) => hasWords(name, words.trim()));
}

/** Those that words find, the nearest first, else in their order; all of them without words. */
export function nearest<T extends Findable>(all: T[], words: string): T[] {
  if (words.trim() === "") return all;
  return all
    .map((one) => ({ one, near: nearness(one, words) }))
    .filter((found): found is { one: T; near: number } => found.near !== null)
    .sort((a, b) => a.near - b.near)
    .map(({ one }) => one);
}
