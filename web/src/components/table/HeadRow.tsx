// The header: names that sort, edges that widen, and a menu for all that can be done with a column.
import Link from "@mui/material/Link";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { memo, useState } from "react";
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
    <div role="rowgroup">
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
      {menu && <ColumnActions {...menu} columns={columns} sortable={sortable} close={() => setMenu(null)} />}
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
      onDoubleClick={() =>
        columns.change((now) => ({
          sizes: Object.fromEntries(Object.entries(now.sizes).filter(([other]) => other !== id)),
        }))
      }
    />
  );
}

interface ActionsProps<T> {
  anchor: Element;
  of: Placed<T>;
  columns: Columns<T>;
  sortable: boolean;
  close: () => void;
}

/** Everything that the pointer does with a header, as a menu for the keyboard. */
function ColumnActions<T>({ anchor, of: { column, width, pinned }, columns, sortable, close }: ActionsProps<T>) {
  const ids = columns.placed.map((p) => p.column.id);
  const at = ids.indexOf(column.id);
  const beside = (by: number) => ids[at + by];
  const widen = (by: number) =>
    columns.change((now) => ({ sizes: { ...now.sizes, [column.id]: Math.max(LEAST, width + by) } }));
  const actions: [string, (() => void) | undefined][] = [
    ["Sort by this", sortable && column.sorts ? () => columns.sortMore(column.id, false) : undefined],
    ["Sort by this as well", sortable && column.sorts ? () => columns.sortMore(column.id, true) : undefined],
    ["Move left", beside(-1) ? () => columns.move(column.id, beside(-1) ?? "") : undefined],
    ["Move right", beside(1) ? () => columns.move(column.id, beside(1) ?? "") : undefined],
    ["Wider", () => widen(24)],
    ["Narrower", () => widen(-24)],
    pinned === undefined
      ? ["Pin to the left", () => columns.change((now) => ({ pinned: [...now.pinned, column.id] }))]
      : ["Unpin", () => columns.change((now) => ({ pinned: now.pinned.filter((id) => id !== column.id) }))],
    [
      "Hide",
      ids.length > 1 ? () => columns.change((now) => ({ hidden: { ...now.hidden, [column.id]: true } })) : undefined,
    ],
    ...columns.hidden.map((c): [string, () => void] => [
      `Show ${c.label}`,
      () =>
        columns.change((now) => ({
          hidden: Object.fromEntries(Object.entries(now.hidden).filter(([id]) => id !== c.id)),
        })),
    ]),
    ["As it was at first", () => columns.change(() => ({ order: [], sizes: {}, pinned: [], hidden: {} }))],
  ];
  return (
    <Menu open anchorEl={anchor} onClose={close}>
      {actions.map(
        ([words, act]) =>
          act && (
            <MenuItem
              key={words}
              dense
              onClick={() => {
                act();
                close();
              }}
            >
              {words}
            </MenuItem>
          ),
      )}
    </Menu>
  );
}
