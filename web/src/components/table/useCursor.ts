// Where the keys stand in a table, and what they do.
import { type KeyboardEvent, useState } from "react";
import { copyText } from "../../headless/clipboard";
import type { Grouped } from "./grouped";
import type { Rows } from "./model";
import type { Columns } from "./useColumns";
import { told } from "../../headless/notice";

export interface Cursor {
  row: number;
  column: number;
  /** From which row on a range is chosen. */
  from: number;
}

export const NOWHERE: Cursor = { row: -1, column: 0, from: -1 };

interface Acts<T> {
  rows: Grouped<T>;
  columns: Columns<T>;
  /** Rows that a page holds. */
  page: number;
  show: (row: number, column: number) => void;
  mark: (rows: T[]) => void;
  open: (row: T, column: number) => void;
  /** Folds a group, or unfolds it. */
  fold: (group: string) => void;
}

/** The rows of a range that are here. */
export function chosen<T>(rows: Rows<T>, { row, from }: Cursor): T[] {
  const [first, last] = [Math.min(row, from), Math.max(row, from)];
  return Array.from({ length: Math.max(last - first + 1, 0) }, (_, i) => rows.at(first + i)).filter(
    (r) => r !== undefined,
  );
}

/** Rows as lines of cells parted by tabs, under the names of the columns. */
function lines<T>(rows: T[], columns: Columns<T>): string {
  const told = columns.placed.filter((p) => p.column.label !== "");
  const head = told.map((p) => (p.column.hint ? `${p.column.label} (${p.column.hint})` : p.column.label));
  const clean = (text: string) => text.replace(/[\t\n]+/g, " ");
  return [head, ...rows.map((row) => told.map((p) => clean(p.column.text(row))))].map((l) => l.join("\t")).join("\n");
}

export function useCursor<T>(acts: Acts<T>) {
  const [cursor, setCursor] = useState<Cursor>(NOWHERE);
  const { rows, columns, page } = acts;
  const go = (row: number, column = cursor.column, extend = false) => {
    const to = Math.min(Math.max(row, 0), rows.count - 1);
    const aside = Math.min(Math.max(column, 0), columns.placed.length - 1);
    setCursor({ row: to, column: aside, from: extend && cursor.from >= 0 ? cursor.from : to });
    if (to >= 0) acts.show(to, aside);
  };
  const [here, group] = [rows.at(cursor.row), rows.head(cursor.row)];
  const open = () => {
    if (group) acts.fold(group.name);
    else if (here !== undefined) acts.open(here, cursor.column);
  };
  const mark = () => acts.mark(chosen(rows, cursor));
  const steps: Record<string, [rows: number, columns: number]> = {
    ArrowDown: [1, 0],
    ArrowUp: [-1, 0],
    ArrowRight: [0, 1],
    ArrowLeft: [0, -1],
    PageDown: [page, 0],
    PageUp: [-page, 0],
  };
  const press = (e: KeyboardEvent): void => {
    // The header has keys of its own.
    if (e.target !== e.currentTarget) return;
    const step = steps[e.key];
    if (step) go(cursor.row + step[0], cursor.column + step[1], e.shiftKey);
    else if (e.key === "Home") go(e.ctrlKey ? 0 : cursor.row, e.ctrlKey ? cursor.column : 0);
    else if (e.key === "End")
      go(e.ctrlKey ? rows.count - 1 : cursor.row, e.ctrlKey ? cursor.column : Number.MAX_SAFE_INTEGER);
    else if (e.key === "Enter") open();
    else if (e.key === " ") mark();
    else if (e.key === "c" && (e.ctrlKey || e.metaKey))
      void told(copyText(lines(chosen(rows, cursor), columns)), "Copying…", "The rows are copied.");
    else return;
    e.preventDefault();
  };
  return { cursor, go, open, mark, press };
}
