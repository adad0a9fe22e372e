// How somebody has laid out a table: order, widths, what is pinned and hidden. Kept on this machine by the table's name.
import { useCallback } from "react";
import { create } from "zustand";
import { persist } from "zustand/middleware";

export interface Layout {
  order: string[];
  sizes: Record<string, number>;
  pinned: string[];
  /** Those that somebody has hidden, or shown though they stand aside. */
  hidden: Record<string, boolean>;
}

export const PLAIN: Layout = { order: [], sizes: {}, pinned: [], hidden: {} };

interface Layouts {
  of: Record<string, Layout>;
  change: (table: string, to: (now: Layout) => Partial<Layout>) => void;
}

const useLayouts = create<Layouts>()(
  persist(
    (set) => ({
      of: {},
      change: (table, to) =>
        set((s) => {
          const now = s.of[table] ?? PLAIN;
          return { of: { ...s.of, [table]: { ...now, ...to(now) } } };
        }),
    }),
    { name: "artemon.tables" },
  ),
);

export function useLayout(table: string): [Layout, (to: (now: Layout) => Partial<Layout>) => void] {
  const layout = useLayouts((s) => s.of[table]) ?? PLAIN;
  const change = useLayouts((s) => s.change);
  return [layout, useCallback((to) => change(table, to), [table, change])];
}

/** Whether columns that stand aside are shown, and what shows and hides them together. */
export function useAside(table: string, columns: string[]): [boolean, (shown: boolean) => void] {
  const [{ hidden }, change] = useLayout(table);
  const set = (shown: boolean) =>
    change((now) => ({ hidden: { ...now.hidden, ...Object.fromEntries(columns.map((id) => [id, !shown])) } }));
  return [columns.some((id) => hidden[id] === false), set];
}
