// The columns in the order, widths and pins that somebody has given them.
import {
  columnOrderingFeature,
  columnPinningFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  rowSortingFeature,
  tableFeatures,
  useTable,
} from "@tanstack/react-table";
import { useMemo } from "react";
import { type Layout, useLayout } from "./layout";
import type { Column, SortBy } from "./model";

const features = tableFeatures({
  columnOrderingFeature,
  columnPinningFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  rowSortingFeature,
});

const NO_ROWS: never[] = [];

/** A column where it stands. */
export interface Placed<T> {
  column: Column<T>;
  /** Its track of the grid, from 1. */
  track: number;
  width: number;
  /** Pixels from the left edge at which a pinned one stays. */
  pinned: number | undefined;
  /** Of its cells. */
  cellClass: string;
  place: { gridColumn: number; left?: number };
  /** "ascending" or "descending", and its rank among several. */
  sorted: [direction: "ascending" | "descending", rank: number] | undefined;
}

export interface Columns<T> {
  placed: Placed<T>[];
  hidden: Column<T>[];
  /** The tracks of the grid. */
  template: string;
  minWidth: number;
  sortMore: (id: string, more: boolean) => void;
  change: (to: (now: Layout) => Partial<Layout>) => void;
  /** Moves a column to where another one stands. */
  move: (id: string, to: string) => void;
}

const isHidden = <T>({ id, aside = false }: Column<T>, { hidden }: Layout) => hidden[id] ?? aside;

/** Room between columns, in pixels. */
const GAP = 8;
const EDGE = 8;

export function useColumns<T>(
  name: string,
  columns: Column<T>[],
  sort: SortBy[],
  setSort: ((to: SortBy[]) => void) | undefined,
): Columns<T> {
  const [layout, change] = useLayout(name);
  const defs = useMemo(
    () =>
      columns.map((c) => ({
        id: c.id,
        header: c.label,
        size: c.width,
        enableSorting: c.sorts !== undefined,
        sortDescFirst: c.sorts === "descending",
      })),
    [columns],
  );
  const table = useTable({
    features,
    columns: defs,
    data: NO_ROWS,
    manualSorting: true,
    enableSortingRemoval: false,
    state: {
      columnOrder: layout.order,
      columnSizing: layout.sizes,
      columnPinning: { start: layout.pinned, end: [] },
      columnVisibility: Object.fromEntries(columns.map((c) => [c.id, !isHidden(c, layout)])),
      sorting: sort,
    },
    onSortingChange: (to) => setSort?.(typeof to === "function" ? to(sort) : to),
  });
  return useMemo(() => {
    const headers = table.getHeaderGroups()[0]?.headers ?? [];
    const placed = placedOf(
      columns,
      headers.map((h) => ({ id: h.id, width: h.getSize() })),
      layout.pinned,
      sort,
    );
    const ids = placed.map((p) => p.column.id);
    return {
      placed,
      hidden: columns.filter((c) => isHidden(c, layout)),
      template: placed
        .map((p) => (p.column.grows && !layout.sizes[p.column.id] ? `minmax(${p.width}px, 1fr)` : `${p.width}px`))
        .join(" "),
      minWidth: 2 * EDGE + placed.reduce((sum, p) => sum + p.width + GAP, -GAP),
      sortMore: (id, more) => table.getColumn(id)?.toggleSorting(undefined, more),
      change,
      move: (id, to) => {
        // Anything can be dropped on a header.
        if (!ids.includes(id)) return;
        const rest = ids.filter((other) => other !== id);
        const at = ids.indexOf(to);
        rest.splice(at, 0, id);
        change(() => ({ order: rest }));
      },
    };
  }, [columns, table, layout, sort, change]);
}

/** Columns one beside the other, as wide as they have been made. */
function placedOf<T>(
  columns: Column<T>[],
  widths: { id: string; width: number }[],
  pinned: string[],
  sort: SortBy[],
): Placed<T>[] {
  const byId = new Map(columns.map((c) => [c.id, c]));
  let left = EDGE;
  return widths.flatMap(({ id, width }, i) => {
    const column = byId.get(id);
    if (!column) return [];
    const stays = pinned.includes(id) ? left : undefined;
    left += width + GAP;
    const at = sort.findIndex((s) => s.id === id);
    const direction = sort[at]?.desc ? "descending" : "ascending";
    const track = i + 1;
    return [
      {
        column,
        track,
        width,
        pinned: stays,
        cellClass: `cell${column.align === "end" ? " n" : ""}${stays === undefined ? "" : " pinned"}`,
        place: { gridColumn: track, ...(stays !== undefined && { left: stays }) },
        sorted: at < 0 ? undefined : [direction, at + 1],
      },
    ];
  });
}
