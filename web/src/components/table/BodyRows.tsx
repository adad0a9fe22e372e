// The rows in view. A row is drawn again only when it, its columns, or what is marked of it has changed.
import { useVirtualizer } from "@tanstack/react-virtual";
import { type Ref, memo, useEffect, useImperativeHandle } from "react";
import type { Grouped } from "./grouped";
import type { GroupHead } from "./model";
import { ROW } from "./surface";
import type { Cursor } from "./useCursor";
import type { Placed } from "./useColumns";

/** Pixels of the header at most, and of the line of medians. */
const AROUND = 56 + ROW;
/** Rows drawn beyond either edge. */
const ASIDE = 5;
/** Rows fetched beyond those drawn, so that they are there when they come into view. */
const AHEAD = 30;

export interface Scroller {
  show: (row: number) => void;
}

interface Props<T> {
  id: string;
  box: HTMLDivElement | null;
  scroller: Ref<Scroller>;
  rows: Grouped<T>;
  shown: Placed<T>[];
  isMarked: (row: T) => boolean;
  /** About how many pixels a row takes, where not all are as tall. */
  tall: ((row: T) => number) | undefined;
  draggable: boolean;
  cursor: Cursor;
  testId: string | undefined;
}

function Body<T>({ id, box, scroller, rows, shown, isMarked, tall, draggable, cursor, testId }: Props<T>) {
  const virtual = useVirtualizer({
    count: rows.count,
    getScrollElement: () => box,
    // What stays in view above and below takes its room away from the rows.
    scrollPaddingEnd: AROUND,
    estimateSize: (i) => {
      const row = tall && rows.at(i);
      return tall && row !== undefined ? tall(row) : ROW;
    },
    rangeExtractor: ({ startIndex, endIndex, count }) => inView(startIndex, endIndex, count),
  });
  useImperativeHandle(scroller, () => ({ show: (row) => virtual.scrollToIndex(row) }), [virtual]);
  const items = virtual.getVirtualIndexes();
  const [first, last] = [items[0] ?? 0, items.at(-1) ?? 0];
  const { want } = rows;
  useEffect(
    () => want?.(Math.max(first - AHEAD, 0), Math.min(last + AHEAD, rows.count - 1)),
    [want, first, last, rows.count],
  );
  const [from, to] = [Math.min(cursor.from, cursor.row), Math.max(cursor.from, cursor.row)];
  return (
    <div style={{ height: virtual.getTotalSize() }}>
      {items.map((index) => {
        const [row, group] = [rows.at(index), rows.head(index)];
        if (group)
          return (
            <GroupRow
              key={`group ${group.name}`}
              id={id}
              index={index}
              group={group}
              open={!rows.folded(group.name)}
              shown={shown}
              cursor={cursor.row === index ? cursor.column : -1}
            />
          );
        return (
          <BodyRow
            // Who comes into view takes the elements of who left it.
            key={index % items.length}
            id={id}
            index={index}
            top={tall ? (virtual.measurementsCache[index]?.start ?? 0) : index * ROW}
            tall={tall && row !== undefined && tall(row) > ROW ? virtual.measureElement : undefined}
            row={row}
            shown={shown}
            marked={row !== undefined && isMarked(row)}
            draggable={draggable}
            chosen={from !== to && index >= from && index <= to}
            cursor={cursor.row === index ? cursor.column : -1}
            testId={testId}
          />
        );
      })}
    </div>
  );
}

export const BodyRows = memo(Body) as typeof Body;

/** As many rows wherever one has scrolled to, so that their elements can be used again. */
function inView(start: number, end: number, count: number): number[] {
  const many = Math.min(count, end - start + 2 + 2 * ASIDE);
  const first = Math.max(Math.min(start - ASIDE, count - many), 0);
  return Array.from({ length: many }, (_, i) => first + i);
}

interface RowProps<T> {
  id: string;
  index: number;
  top: number;
  /** Of a row that is as tall as what is in it: measures it. */
  tall: ((element: Element | null) => void) | undefined;
  row: T | undefined;
  shown: Placed<T>[];
  marked: boolean;
  draggable: boolean;
  chosen: boolean;
  cursor: number;
  testId: string | undefined;
}

function PlainRow<T>({ id, index, top, tall, row, shown, marked, draggable, chosen, cursor, testId }: RowProps<T>) {
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      aria-selected={marked}
      data-row={index}
      draggable={draggable && row !== undefined}
      data-testid={row === undefined ? undefined : testId}
      className={`row${marked ? " marked" : ""}${chosen ? " chosen" : ""}${tall ? " tall" : ""}`}
      ref={tall}
      data-index={tall && index}
      style={{ top }}
    >
      {shown.map((p) => (
        <div
          key={p.column.id}
          role="gridcell"
          id={cursor === p.track - 1 ? `${id}-${index}-${cursor}` : undefined}
          aria-colindex={p.track}
          data-column={p.column.id}
          data-opens={p.column.open ? "" : undefined}
          className={cursor === p.track - 1 ? `${p.cellClass} cursor` : p.cellClass}
          style={p.place}
        >
          {row === undefined ? <span className="coming" /> : p.column.cell(row)}
        </div>
      ))}
    </div>
  );
}

const BodyRow = memo(PlainRow) as typeof PlainRow;

interface GroupProps<T> {
  id: string;
  index: number;
  group: GroupHead;
  open: boolean;
  shown: Placed<T>[];
  cursor: number;
}

/** The line of a group: its name and size, and under each column the middle of its rows. */
function PlainGroup<T>({ id, index, group, open, shown, cursor }: GroupProps<T>) {
  const named = shown.find((p) => p.column.grows) ?? shown[0];
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      aria-expanded={open}
      data-row={index}
      data-testid="group"
      className="row group"
      style={{ top: index * ROW }}
    >
      {shown.map((p) => (
        <div
          key={p.column.id}
          role="gridcell"
          id={cursor === p.track - 1 ? `${id}-${index}-${cursor}` : undefined}
          aria-colindex={p.track}
          data-column={p.column.id}
          className={cursor === p.track - 1 ? `${p.cellClass} cursor` : p.cellClass}
          style={p.place}
        >
          {p === named ? (
            <span className="strong">
              {open ? "▾" : "▸"} {group.name} <span className="faint">{group.count} · medians</span>
            </span>
          ) : (
            group.cells[p.column.id]
          )}
        </div>
      ))}
    </div>
  );
}

const GroupRow = memo(PlainGroup) as typeof PlainGroup;
