// What a table is told: its columns, and its rows wherever they come from.
import type { ReactNode } from "react";
import type { Item } from "../menu/MenuButton";

export interface Column<T> {
  id: string;
  /** What stands in the header. */
  label: string;
  /** The unit, said once there. */
  hint?: string | undefined;
  /** What the figures mean. */
  meaning?: string | undefined;
  /** What is said of the header on hover and focus, where it is more than the meaning. */
  about?: ReactNode;
  /** Pixels, until somebody makes it wider or narrower. */
  width: number;
  /** Takes what room is left. */
  grows?: boolean;
  align?: "start" | "end";
  /** How a first click sorts; none where nothing is sorted by it. */
  sorts?: "ascending" | "descending";
  cell: (row: T) => ReactNode;
  /** As text, for the clipboard. */
  text: (row: T) => string;
  /** What is said of a cell on hover and focus. */
  tip?: (row: T) => ReactNode;
  /** What a click or Enter does. */
  open?: (row: T) => void;
  /** Where a click or Enter leads. */
  href?: (row: T) => string;
  /** Whether that is where the row itself leads: opening the row does more than following the link. */
  own?: boolean;
  /** What else can be done with the column. */
  actions?: Item[];
  /** Shown only once somebody asks for it. */
  aside?: boolean;
}

/** Rows counted from 0, of which some may not be here yet. */
export interface Rows<T> {
  count: number;
  at: (i: number) => T | undefined;
  /** Whether these are still the rows of an earlier question. */
  stale?: boolean;
  /** Told which rows come into view. */
  want?: (first: number, last: number) => void;
}

/** A group of rows, and what stands in its line by column. */
export interface GroupHead {
  name: string;
  count: number;
  cells: Record<string, string>;
}

/** What stands under each column: the middle of all rows, groups or not. */
export type Foot = Record<string, string>;

export interface SortBy {
  id: string;
  desc: boolean;
}
