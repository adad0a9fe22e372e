// The rows in view. A row is drawn again only when it, its columns, or what is marked of it has changed.
import type { VirtualItem } from "@tanstack/react-virtual";
import { memo } from "react";
import type { Rows } from "./model";
import { ROW } from "./surface";
import type { Placed } from "./useColumns";

interface Props<T> {
  id: string;
  items: VirtualItem[];
  rows: Rows<T>;
  shown: Placed<T>[];
  template: string;
  isMarked: (row: T) => boolean;
  /** Where the keys stand, and from which row on a range is chosen. */
  cursor: { row: number; column: number; from: number };
  testId: string | undefined;
}

export function BodyRows<T>({ id, items, rows, shown, template, isMarked, cursor, testId }: Props<T>) {
  const [first, last] = [Math.min(cursor.from, cursor.row), Math.max(cursor.from, cursor.row)];
  return items.map(({ index }) => {
    const row = rows.at(index);
    return (
      <BodyRow
        key={index}
        id={id}
        index={index}
        row={row}
        shown={shown}
        template={template}
        marked={row !== undefined && isMarked(row)}
        chosen={first !== last && index >= first && index <= last}
        cursor={cursor.row === index ? cursor.column : -1}
        testId={testId}
      />
    );
  });
}

interface RowProps<T> {
  id: string;
  index: number;
  row: T | undefined;
  shown: Placed<T>[];
  template: string;
  marked: boolean;
  chosen: boolean;
  cursor: number;
  testId: string | undefined;
}

function PlainRow<T>({ id, index, row, shown, template, marked, chosen, cursor, testId }: RowProps<T>) {
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      aria-selected={marked}
      data-row={index}
      data-testid={row === undefined ? undefined : testId}
      className={`row${marked ? " marked" : ""}${chosen ? " chosen" : ""}`}
      style={{ gridTemplateColumns: template, transform: `translateY(${index * ROW}px)` }}
    >
      {shown.map(({ column, track, pinned }) => (
        <div
          key={column.id}
          role="gridcell"
          id={`${id}-${index}-${track - 1}`}
          aria-colindex={track}
          data-column={column.id}
          data-opens={row !== undefined && column.open ? "" : undefined}
          className={`cell${column.align === "end" ? " n" : ""}${pinned === undefined ? "" : " pinned"}${cursor === track - 1 ? " cursor" : ""}`}
          style={{ gridColumn: track, left: pinned }}
        >
          {row === undefined ? <span className="coming" /> : column.cell(row)}
        </div>
      ))}
    </div>
  );
}

const BodyRow = memo(PlainRow) as typeof PlainRow;
