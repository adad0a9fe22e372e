// The marked companies and the set being stepped through; they follow the person and survive a reload.
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
  toggle: (company: Marked) => void;
  clear: () => void;
  restore: (marked: Marked[]) => void;
  stepThrough: (symbols: string[]) => void;
}

export const useMarks = create<Marks>()(
  persist(
    (set) => ({
      marked: [],
      walk: [],
      toggle: (company) =>
        set((s) => ({
          marked: s.marked.some((m) => m.symbol === company.symbol)
            ? s.marked.filter((m) => m.symbol !== company.symbol)
            : [...s.marked, company],
        })),
      clear: () => set({ marked: [] }),
      restore: (marked) => set({ marked }),
      stepThrough: (walk) => set({ walk }),
    }),
    { name: "artemon.marks" },
  ),
);
