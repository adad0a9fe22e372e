// A table of companies of which only the rows in sight are drawn; j and k move, x marks, o opens, and its companies are
// what one steps through afterwards.
import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import type { SxProps } from "@mui/material/styles";
import { useVirtualizer } from "@tanstack/react-virtual";
import { Fragment, type ReactNode, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { useAddress } from "../headless/asOf";
import { useKeys } from "../headless/keys";
import { useMarks } from "../headless/marks";
import { tint } from "../theme/theme";

/** Pixels of a row. */
export const ROW = 31;

interface Named {
  symbol: string;
  name: string;
}

interface Props<T extends Named> {
  label: string;
  minWidth: number;
  header: ReactNode;
  rows: T[];
  /** One row, in a place that `placed` gives. */
  draw: (row: T, placed: SxProps) => ReactNode;
  /** What is said when there are no rows. */
  empty: ReactNode;
  sx?: SxProps;
}

export function VirtualTable<T extends Named>({ label, minWidth, header, rows, draw, empty, sx }: Props<T>) {
  const scroll = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => ROW,
    overscan: 8,
  });
  const at = useWalk(rows, (i) => virtual.scrollToIndex(i));
  return (
    <Paper ref={scroll} sx={{ overflow: "auto", ...(sx as object) }}>
      <Box role="table" aria-label={label} aria-rowcount={rows.length} sx={{ minWidth }}>
        {header}
        <Box sx={{ position: "relative", height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const row = rows[item.index];
            return row && <Fragment key={row.symbol}>{draw(row, placed(item.start, item.index === at))}</Fragment>;
          })}
        </Box>
      </Box>
      {rows.length === 0 && empty}
    </Paper>
  );
}

const placed = (top: number, current: boolean): SxProps => ({
  position: "absolute",
  top,
  left: 0,
  right: 0,
  height: ROW,
  outline: current ? `2px solid ${tint("brass")}` : undefined,
  outlineOffset: -2,
});

/** The row that the keys stand on. */
function useWalk(rows: Named[], show: (i: number) => void): number {
  const [at, setAt] = useState(-1);
  const { toggle, stepThrough } = useMarks();
  const navigate = useNavigate();
  const address = useAddress();
  const go = (to: number) => {
    const i = Math.min(Math.max(to, 0), rows.length - 1);
    setAt(i);
    if (i >= 0) show(i);
  };
  const row = rows[at];
  const open = () => row && navigate(address(`/companies/${row.symbol}`));
  useKeys({ j: () => go(at + 1), k: () => go(at - 1), x: () => row && toggle(row), o: open, Enter: open });
  const symbols = rows.map((r) => r.symbol).join(",");
  useEffect(() => stepThrough(symbols ? symbols.split(",") : []), [symbols, stepThrough]);
  return at;
}
