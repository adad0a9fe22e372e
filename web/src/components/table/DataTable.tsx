// The table of every place: rows and columns of which only those in view are drawn; sorted, ordered, widened, pinned and
// hidden as somebody likes it; walked with the keys, chosen by range, copied.
import Paper from "@mui/material/Paper";
import {
  type CSSProperties,
  type DragEvent,
  type MouseEvent,
  type ReactNode,
  type RefObject,
  useCallback,
  useId,
  useMemo,
  useRef,
  useState,
} from "react";
import { useNavigate } from "react-router";
import { type Action, useActions } from "../../headless/actions";
import { type Dragged, drag } from "../../headless/dragged";
import { useHints } from "../hints/Hints";
import { BodyRows, type Scroller } from "./BodyRows";
import { HeadRow } from "./HeadRow";
import { useGrouped } from "./grouped";
import { FootRow } from "./FootRow";
import type { Column, Foot, GroupHead, Rows, SortBy } from "./model";
import { ROW, Surface, TRACKS } from "./surface";
import { type Placed, useColumns } from "./useColumns";
import { useCursor } from "./useCursor";

const NOTHING: SortBy[] = [];

interface Props<T> {
  /** Under which its layout is kept. */
  name: string;
  label: string;
  columns: Column<T>[];
  rows: Rows<T>;
  sort?: SortBy[];
  setSort?: (to: SortBy[]) => void;
  /** Which rows are marked, and what marking does. */
  marks?: { isMarked: (row: T) => boolean; toggle: (rows: T[]) => void };
  /** The groups that the rows come in, in their order. */
  groups?: GroupHead[] | undefined;
  /** What stands under the columns, where there are rows. */
  foot?: Foot | undefined;
  /** What o opens of a row, and Enter where a cell opens nothing. */
  open?: (row: T) => void;
  /** What else the keys do with a row. */
  actions?: (row: T) => Action[];
  /** What is dragged from a row. */
  drag?: (row: T) => Dragged;
  /** About how many pixels a row takes, where not all are as tall. */
  tall?: (row: T) => number;
  /** What is said when there are no rows. */
  empty: ReactNode;
  testId?: string;
  sx?: object;
}

const TICK = "marked";

export function DataTable<T>(p: Props<T>) {
  // As state, since what is inside needs it once it is there.
  const [box, setBox] = useState<HTMLDivElement | null>(null);
  const scroller = useRef<Scroller>(null);
  const { id, rows, columns, cursor, press, dragRow } = useGrid(p, box, scroller);
  const { shown, look } = useColumnsInView(columns.placed);
  const { row, column } = cursor.cursor;
  const foot = rows.count > 0 ? p.foot : undefined;
  return (
    <Paper sx={{ position: "relative", display: "flex", flexDirection: "column", minHeight: 0, ...p.sx }}>
      <Surface
        ref={setBox}
        role="grid"
        aria-label={p.label}
        aria-rowcount={rows.count + 1 + (foot ? 1 : 0)}
        aria-busy={rows.stale ?? false}
        aria-colcount={columns.placed.length}
        aria-multiselectable={p.marks !== undefined}
        aria-activedescendant={row >= 0 ? `${id}-${row}-${column}` : undefined}
        tabIndex={0}
        onScroll={(e) => look(e.currentTarget)}
        onKeyDown={cursor.press}
        onFocus={(e) => e.target === e.currentTarget && row < 0 && cursor.go(0)}
        sx={{ flex: 1, minHeight: 0 }}
      >
        <div style={{ minWidth: columns.minWidth, [TRACKS]: columns.template } as CSSProperties}>
          <HeadRow columns={columns} shown={shown} marks={p.marks !== undefined} sortable={p.setSort !== undefined} />
          {/* biome-ignore lint/a11y/useKeyWithClickEvents: the grid takes the keys for all of its cells */}
          <div role="rowgroup" className="body" onClick={press} onDragStart={dragRow}>
            <BodyRows
              id={id}
              box={box}
              scroller={scroller}
              rows={rows}
              shown={shown}
              isMarked={p.marks?.isMarked ?? never}
              tall={p.tall}
              draggable={p.drag !== undefined}
              cursor={cursor.cursor}
              testId={p.testId}
            />
          </div>
          {foot && <FootRow line={rows.count + 2} foot={foot} shown={shown} />}
        </div>
      </Surface>
      {rows.count === 0 && p.empty}
    </Paper>
  );
}

/** The lines and columns of a table, and what the keys and the pointer do with them. */
function useGrid<T>(p: Props<T>, box: HTMLDivElement | null, scroller: RefObject<Scroller | null>) {
  const { marks } = p;
  const id = useId();
  const navigate = useNavigate();
  const rows = useGrouped(p.rows, p.groups);
  const all = useMemo(() => (marks ? [tick<T>(), ...p.columns] : p.columns), [marks, p.columns]);
  const columns = useColumns(p.name, all, p.sort ?? NOTHING, p.setSort);
  const open = (row: T, column: Column<T> | undefined) => {
    if (column?.own && p.open) p.open(row);
    else if (column?.href) navigate(column.href(row));
    else if (column?.open) column.open(row);
    else p.open?.(row);
  };
  const cursor = useCursor({
    rows,
    columns,
    page: Math.max(Math.floor((box?.clientHeight ?? 300) / ROW) - 2, 1),
    show: (row, column) => {
      scroller.current?.show(row);
      showColumn(box, columns.placed, column);
    },
    mark: (chosen) => marks?.toggle(chosen),
    open: (row, at) => open(row, columns.placed[at]?.column),
    fold: rows.fold,
  });
  const { row, column } = cursor.cursor;
  const here = rows.at(row);
  useActions([
    { keys: "j", label: "Next row", run: () => cursor.go(row + 1) },
    { keys: "k", label: "Previous row", run: () => cursor.go(row - 1) },
    ...(here === undefined ? [] : rowActions(here, p.open, marks && cursor.mark)),
    ...(here === undefined ? [] : (p.actions?.(here) ?? [])),
  ]);
  const press = (e: MouseEvent) => {
    const line = lineOf(e.target);
    const group = rows.head(line);
    if (group) {
      cursor.go(line);
      rows.fold(group.name);
      return;
    }
    const found = cellOf(e.target, columns.placed, rows);
    const link = (e.target as Element).closest("a") !== null;
    if (!found || (link && (e.metaKey || e.ctrlKey))) return;
    e.preventDefault();
    cursor.go(found.index, found.track, e.shiftKey);
    if (e.shiftKey) return;
    if (found.column.id === TICK) marks?.toggle([found.row]);
    else if (found.column.open || (link && found.column.href)) open(found.row, found.column);
  };
  const dragRow = (e: DragEvent) => {
    const row = p.drag && rows.at(lineOf(e.target));
    if (p.drag && row !== undefined) drag(e, p.drag(row));
  };
  const words = useCallback(
    (element: Element) => {
      const head = all.find((c) => c.id === element.getAttribute("data-head"));
      const cell = head ? undefined : cellOf(element, columns.placed, rows);
      const said = head ? (head.about ?? head.meaning) : cell?.column.tip?.(cell.row);
      return said ? { anchor: element, words: said } : null;
    },
    [all, columns.placed, rows],
  );
  useHints(box, words, row >= 0 ? `${id}-${row}-${column}` : "");
  return { id, rows, columns, cursor, press, dragRow };
}

function rowActions<T>(row: T, open: ((row: T) => void) | undefined, mark: (() => void) | undefined): Action[] {
  return [
    ...(open ? [{ keys: "o", label: "Open the row", run: () => open(row) }] : []),
    ...(mark ? [{ keys: "x", label: "Mark or unmark the selected rows", run: mark }] : []),
  ];
}

const never = () => false;

function tick<T>(): Column<T> {
  const box = <span className="tick">✓</span>;
  return { id: TICK, label: "", meaning: "Marked", width: 22, cell: () => box, text: () => "" };
}

/** The line that an element is in. */
const lineOf = (target: EventTarget | null): number =>
  target instanceof Element ? Number(target.closest("[data-row]")?.getAttribute("data-row") ?? -1) : -1;

/** Whose cell an element is in. */
function cellOf<T>(target: EventTarget | null, placed: Placed<T>[], rows: Rows<T>) {
  if (!(target instanceof Element)) return undefined;
  const index = lineOf(target);
  const id = target.closest("[data-column]")?.getAttribute("data-column");
  const found = placed.find((p) => p.column.id === id);
  const row = rows.at(index);
  return found && row !== undefined ? { row, index, column: found.column, track: found.track - 1 } : undefined;
}

/** Pixels beyond either edge within which columns are drawn. */
const ASIDE = 240;

/** The columns within the window, and the pinned ones. */
function useColumnsInView<T>(placed: Placed<T>[]) {
  const [view, setView] = useState({ left: 0, right: 2400 });
  const look = useCallback((box: HTMLElement) => {
    // In steps, so that a scroll draws new columns seldom.
    const left = Math.floor(box.scrollLeft / ASIDE) * ASIDE;
    const right = left + Math.ceil(box.clientWidth / ASIDE + 1) * ASIDE;
    setView((old) => (old.left === left && old.right === right ? old : { left, right }));
  }, []);
  const shown = useMemo(() => {
    let at = 0;
    return placed.filter((p) => {
      const [from, to] = [at, at + p.width];
      at = to + 8;
      return p.pinned !== undefined || (to >= view.left - ASIDE && from <= view.right + ASIDE);
    });
  }, [placed, view]);
  return { shown, look };
}

function showColumn<T>(box: HTMLElement | null, placed: Placed<T>[], at: number) {
  if (!box) return;
  const before = placed.slice(0, at).reduce((sum, p) => sum + p.width + 8, 0);
  const width = placed[at]?.width ?? 0;
  if (before < box.scrollLeft) box.scrollLeft = before;
  else if (before + width > box.scrollLeft + box.clientWidth) box.scrollLeft = before + width - box.clientWidth + 16;
}
