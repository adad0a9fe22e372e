// The screen being edited, as a document: pure changes, kept in the address and, as a draft, on this machine.
import type { Block, Criterion, Screen } from "../api/client";

export type Need = "all" | "any" | number;
export const needOf = (block: Block): Need => (block.need as Need | undefined) ?? "all";

export const EMPTY: Screen = {
  name: "New screen",
  universe: {},
  blocks: [{ need: "all", criteria: [] }],
  columns: ["price", "pe", "own_rank(pe, 10y)", "net_margin", "roe", "margin_of_safety"],
  sort: [{ formula: "margin_of_safety", descending: true }],
};

/** Changes the screen as it then is; what removes something says so in words, and is offered to be undone. */
export type Edit = (change: (s: Screen) => Screen, removed?: string) => void;

/** A criterion's place: its block and its place in it. */
export interface Place {
  block: number;
  at: number;
}

export const blocksOf = (s: Screen): Block[] => s.blocks ?? [];
export const criteriaOf = (b: Block): Criterion[] => b.criteria ?? [];

/** The place of a criterion counted over all blocks, as answers count. */
export function flatIndex(s: Screen, p: Place): number {
  return blocksOf(s)
    .slice(0, p.block)
    .reduce((n, b) => n + criteriaOf(b).length, p.at);
}

/** The other way round: where a criterion stands that is counted over all blocks. */
export function placeOf(s: Screen, flat: number): Place | null {
  let before = 0;
  for (const [block, b] of blocksOf(s).entries()) {
    const n = criteriaOf(b).length;
    if (flat < before + n) return { block, at: flat - before };
    before += n;
  }
  return null;
}

function withBlock(s: Screen, block: number, change: (b: Block) => Block): Screen {
  return { ...s, blocks: blocksOf(s).map((b, i) => (i === block ? change(b) : b)) };
}

export const change = (s: Screen, p: Place, to: Partial<Criterion>): Screen =>
  withBlock(s, p.block, (b) => ({
    ...b,
    criteria: criteriaOf(b).map((c, i) => (i === p.at ? { ...c, ...to } : c)),
  }));

export const remove = (s: Screen, p: Place): Screen =>
  withBlock(s, p.block, (b) => ({ ...b, criteria: criteriaOf(b).filter((_, i) => i !== p.at) }));

export const add = (s: Screen, block: number, c: Criterion): Screen =>
  withBlock(s, block, (b) => ({ ...b, criteria: [...criteriaOf(b), c] }));

/** Takes a criterion to another place, counted as places are before it is taken; a block that is left empty stays. */
export function move(s: Screen, from: Place, to: Place): Screen {
  const moved = criteriaOf(blocksOf(s)[from.block] ?? {})[from.at];
  if (!moved) return s;
  const at = from.block === to.block && from.at < to.at ? to.at - 1 : to.at;
  return withBlock(remove(s, from), to.block, (b) => ({ ...b, criteria: criteriaOf(b).toSpliced(at, 0, moved) }));
}

export const setNeed = (s: Screen, block: number, need: Need): Screen => withBlock(s, block, (b) => ({ ...b, need }));

export const addBlock = (s: Screen): Screen => ({ ...s, blocks: [...blocksOf(s), { need: "any", criteria: [] }] });

export const removeBlock = (s: Screen, block: number): Screen => ({
  ...s,
  blocks: blocksOf(s).filter((_, i) => i !== block),
});

/** A screen as it is worked on: one that is saved, or began as one, says which and from which version. */
export interface Working {
  screen: Screen;
  doc: string | null;
  version: number | null;
}

export const unsaved = (screen: Screen): Working => ({ screen, doc: null, version: null });

const DRAFT = "artemon.working";

export function readWorking(): Working | null {
  try {
    return JSON.parse(localStorage.getItem(DRAFT) ?? "null") as Working | null;
  } catch {
    return null;
  }
}

/** The screen that was worked on last. */
export const readDraft = (): Screen | null => readWorking()?.screen ?? null;

export const writeWorking = (w: Working): void => localStorage.setItem(DRAFT, JSON.stringify(w));

/** A document with its parts in order, what is not set left out. */
const inOrder = (part: unknown): unknown =>
  Array.isArray(part)
    ? part.map(inOrder)
    : part !== null && typeof part === "object"
      ? Object.fromEntries(
          Object.entries(part)
            .filter(([, v]) => v !== undefined && v !== null)
            .sort(([a], [b]) => (a < b ? -1 : 1))
            .map(([k, v]) => [k, inOrder(v)]),
        )
      : part;

/** Whether two screens are the same document. */
export const same = (a: Screen, b: Screen): boolean => JSON.stringify(inOrder(a)) === JSON.stringify(inOrder(b));
