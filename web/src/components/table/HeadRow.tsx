// The header: names that sort, edges that widen, and a menu for all that can be done with a column.
import Link from "@mui/material/Link";
import { memo, useState } from "react";
import { type Item, PopMenu } from "../menu/MenuButton";
import { PLAIN } from "./layout";
import type { Columns, Placed } from "./useColumns";

/** A column is never narrower than this, in pixels. */
const LEAST = 32;

interface Props<T> {
  columns: Columns<T>;
  shown: Placed<T>[];
  marks: boolean;
  sortable: boolean;
}

function Head<T>({ columns, shown, marks, sortable }: Props<T>) {
  const [menu, setMenu] = useState<{ anchor: Element; of: Placed<T> } | null>(null);
  const [over, setOver] = useState<string | null>(null);
  return (
    <div role="rowgroup" className="heads">
      <div role="row" className="row head" aria-rowindex={1}>
        {shown.map((p) => (
          <div
            key={p.column.id}
            role="columnheader"
            aria-colindex={p.track}
            aria-sort={p.sorted?.[0]}
            className={`column${p.column.align === "end" ? " n" : ""}${p.pinned === undefined ? "" : " pinned"}${over === p.column.id ? " over" : ""}`}
            style={{ gridColumn: p.track, left: p.pinned }}
            data-head={p.column.id}
            draggable={!(marks && p.track === 1)}
            onDragStart={(e) => e.dataTransfer.setData("text/plain", p.column.id)}
            onDragOver={(e) => {
              // Nothing is moved before the marks.
              if (marks && p.track === 1) return;
              e.preventDefault();
              setOver(p.column.id);
            }}
            onDragLeave={() => setOver(null)}
            onDrop={(e) => {
              e.preventDefault();
              setOver(null);
              columns.move(e.dataTransfer.getData("text/plain"), p.column.id);
            }}
            onContextMenu={(e) => {
              e.preventDefault();
              setMenu({ anchor: e.currentTarget, of: p });
            }}
          >
            <Name placed={p} columns={columns} sortable={sortable} menu={(anchor) => setMenu({ anchor, of: p })} />
            <Grip placed={p} columns={columns} />
          </div>
        ))}
      </div>
      <PopMenu
        anchor={menu?.anchor ?? null}
        items={menu ? columnActions(menu.of, columns, sortable) : []}
        close={() => setMenu(null)}
      />
    </div>
  );
}

export const HeadRow = memo(Head) as typeof Head;

interface NameProps<T> {
  placed: Placed<T>;
  columns: Columns<T>;
  sortable: boolean;
  menu: (anchor: Element) => void;
}

function Name<T>({ placed: { column, sorted }, columns, sortable, menu }: NameProps<T>) {
  const sorts = sortable && column.sorts !== undefined;
  const mark = sorted && (sorted[0] === "descending" ? " ▾" : " ▴");
  const rank = sorted && sorted[1] > 1 ? sorted[1] : "";
  return (
    <Link
      component="button"
      underline="none"
      onClick={(e) => (sorts ? columns.sortMore(column.id, e.shiftKey) : menu(e.currentTarget))}
      onKeyDown={(e) => {
        if (e.key !== "ArrowDown") return;
        e.preventDefault();
        e.stopPropagation();
        menu(e.currentTarget);
      }}
      aria-label={column.label === "" ? (column.meaning ?? column.id) : undefined}
      sx={{ color: "inherit", font: "inherit", textAlign: "inherit" }}
    >
      {column.label} {column.hint && <span className="faint">{column.hint}</span>}
      {mark}
      {rank}
    </Link>
  );
}

function Grip<T>({ placed, columns }: { placed: Placed<T>; columns: Columns<T> }) {
  const [from, setFrom] = useState<{ x: number; width: number } | null>(null);
  const { id } = placed.column;
  return (
    <span
      className="grip"
      aria-hidden
      draggable
      onDragStart={(e) => {
        e.preventDefault();
        e.stopPropagation();
      }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        const cell = e.currentTarget.parentElement;
        setFrom({ x: e.clientX, width: cell?.getBoundingClientRect().width ?? placed.width });
      }}
      onPointerMove={(e) => {
        if (!from) return;
        const width = Math.max(LEAST, Math.round(from.width + e.clientX - from.x));
        columns.change((now) => ({ sizes: { ...now.sizes, [id]: width } }));
      }}
      onPointerUp={() => setFrom(null)}
      onDoubleClick={() => columns.change((now) => ({ sizes: without(now.sizes, id) }))}
    />
  );
}

/** Everything that the pointer does with a header, as a menu for the keyboard. */
function columnActions<T>({ column, width, pinned }: Placed<T>, columns: Columns<T>, sortable: boolean): Item[] {
  const { id } = column;
  const ids = columns.placed.map((p) => p.column.id);
  const at = ids.indexOf(id);
  const [left, right] = [ids[at - 1], ids[at + 1]];
  const widen = (by: number) =>
    columns.change((now) => ({ sizes: { ...now.sizes, [id]: Math.max(LEAST, width + by) } }));
  const when = (may: unknown, label: string, run: () => void): Item[] => (may ? [{ label, run }] : []);
  return [
    ...(column.actions ?? []),
    ...when(sortable && column.sorts, "Sort", () => columns.sortMore(id, false)),
    ...when(sortable && column.sorts, "Add to the sort", () => columns.sortMore(id, true)),
    ...when(left, "Move left", () => columns.move(id, left ?? "")),
    ...when(right, "Move right", () => columns.move(id, right ?? "")),
    { label: "Wider", run: () => widen(24) },
    { label: "Narrower", run: () => widen(-24) },
    pinned === undefined
      ? { label: "Pin to the left", run: () => columns.change((now) => ({ pinned: [...now.pinned, id] })) }
      : { label: "Unpin", run: () => columns.change((now) => ({ pinned: now.pinned.filter((p) => p !== id) })) },
    ...when(ids.length > 1, "Hide", () => columns.change((now) => ({ hidden: { ...now.hidden, [id]: true } }))),
    ...columns.hidden.map((c) => ({
      label: `Show ${c.label}`,
      run: () => columns.change((now) => ({ hidden: { ...now.hidden, [c.id]: false } })),
    })),
    {
      label: "Reset the columns",
      run: () => columns.change(() => PLAIN),
    },
  ];
}

const without = <V,>(of: Record<string, V>, id: string): Record<string, V> =>
  Object.fromEntries(Object.entries(of).filter(([other]) => other !== id));
