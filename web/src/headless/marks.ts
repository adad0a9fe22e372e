// The marked companies and the set being stepped through; they follow the person and survive a reload.
import { useMemo } from "react";
import { create } from "zustand";
import { persist } from "zustand/middleware";

export interface Marked {
  symbol: string;
  name: string;
}

interface Marks {
  marked: Marked[];
  /** The companies one steps through with j and k. */
  walk: string[];
  toggle: (companies: Marked[]) => void;
  clear: () => void;
  restore: (marked: Marked[]) => void;
  stepThrough: (symbols: string[]) => void;
}

export const useMarks = create<Marks>()(
  persist(
    (set) => ({
      marked: [],
      walk: [],
      // Several are all marked, unless they already are.
      toggle: (companies) =>
        set((s) => {
          const has = (c: Marked) => s.marked.some((m) => m.symbol === c.symbol);
          const missing = companies.filter((c) => !has(c)).map(({ symbol, name }) => ({ symbol, name }));
          const named = new Set(companies.map((c) => c.symbol));
          return {
            marked: missing.length > 0 ? [...s.marked, ...missing] : s.marked.filter((m) => !named.has(m.symbol)),
          };
        }),
      clear: () => set({ marked: [] }),
      restore: (marked) => set({ marked }),
      stepThrough: (walk) => set({ walk }),
    }),
    { name: "artemon.marks" },
  ),
);

/** Marks as a table wants them. */
export function useCompanyMarks<T extends Marked>(): { isMarked: (row: T) => boolean; toggle: (rows: T[]) => void } {
  const marked = useMarks((s) => s.marked);
  const toggle = useMarks((s) => s.toggle);
  return useMemo(() => {
    const symbols = new Set(marked.map((m) => m.symbol));
    return { isMarked: (row) => symbols.has(row.symbol), toggle };
  }, [marked, toggle]);
}
