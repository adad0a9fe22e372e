// What the address holds. It answers at once, and the address follows when nothing more has come for a moment: browsers
// limit how often an address may change, and a dragged handle changes it dozens of times a second.
import { compressToEncodedURIComponent, decompressFromEncodedURIComponent } from "lz-string";
import {
  createParser,
  debounce,
  parseAsArrayOf,
  parseAsFloat,
  parseAsInteger,
  parseAsString,
  type UseQueryStateOptions,
} from "nuqs";
import type { Screen } from "../api/client";
import type { SortBy } from "../components/table/model";

const SETTLED_AFTER_MS = 250;

const settled = { limitUrlUpdates: debounce(SETTLED_AFTER_MS) } satisfies Partial<UseQueryStateOptions<string>>;

/** A change that going back takes back. */
export const STEP = { history: "push", shallow: false } as const;

export const text = parseAsString.withOptions(settled);
export const number = parseAsFloat.withOptions(settled);
export const whole = parseAsInteger.withOptions(settled);
export const texts = parseAsArrayOf(parseAsString).withOptions(settled);
export const numbers = parseAsArrayOf(parseAsFloat).withOptions(settled);

/** A screen as JSON, compressed to be short enough to paste; as it is typed it is read too. A broken one is none. */
export const screenText = createParser<Screen>({
  parse: (written) =>
    JSON.parse(written.startsWith("{") ? written : decompressFromEncodedURIComponent(written)) as Screen | null,
  serialize: (screen) => compressToEncodedURIComponent(JSON.stringify(screen)),
}).withOptions(settled);

/** An order of rows: "quality-" is the highest quality first. */
export const order = parseAsArrayOf(
  createParser<SortBy>({
    parse: (written) => (written ? { id: written.replace(/-$/, ""), desc: written.endsWith("-") } : null),
    serialize: (s) => s.id + (s.desc ? "-" : ""),
    eq: (a, b) => a.id === b.id && a.desc === b.desc,
  }),
).withOptions(settled);
