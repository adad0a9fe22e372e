// The marks of a map and its axes; pointing at a mark tells of it, a dragged box marks those in it.
import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { type PointerEvent, useMemo, useRef, useState } from "react";
import type { Schemas } from "../../../api/client";
import { count, inUnit } from "../../../headless/format";
import { useCompanyMarks } from "../../../headless/marks";
import { useWidth } from "../../../headless/useWidth";
import { tint } from "../../../theme/theme";
import { type Dot, dotAt, dotsWithin, type Frame, frameOf, HEIGHT, type One, withRoom } from "./frame";
import { MapAxes } from "./MapAxes";
import { MapDots } from "./MapDots";

type Answer = Schemas["MapAnswer"];
type Corner = [number, number];

export function Marks({ map, dear, open }: { map: Answer; dear: boolean; open: (row: One) => void }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const { isMarked, toggle } = useCompanyMarks<One>();
  const frame = useMemo(() => frameOf(map, width), [map, width]);
  const named = useMemo(() => withRoom(frame, isMarked), [frame, isMarked]);
  const { over, dragged, hands } = usePointer(frame, open, toggle);
  const words = `${count(map.marks.length)} companies: ${map.x.label} to the right, ${map.y.label} upwards`;
  return (
    <Box ref={box}>
      <Box sx={{ position: "relative", height: HEIGHT }}>
        <MapDots frame={frame} dear={dear} isMarked={isMarked} />
        <svg
          width={width}
          height={HEIGHT}
          role="img"
          aria-label={words}
          style={{
            position: "absolute",
            inset: 0,
            touchAction: "none",
            userSelect: "none",
            cursor: over ? "pointer" : "crosshair",
          }}
          {...hands}
        >
          <MapAxes map={map} frame={frame} />
          <Names named={named} />
          {over && (
            <circle
              cx={over.left}
              cy={over.top}
              r={over.radius + 2}
              fill="none"
              stroke={tint("ink")}
              strokeWidth={1.5}
            />
          )}
          {dragged && <Dragged {...dragged} />}
        </svg>
        {over && !dragged && <Told map={map} dot={over} width={width} />}
      </Box>
      <Typography variant="caption" color="textSecondary" component="p">
        {map.without > 0 &&
          `${count(map.without)} ${map.without === 1 ? "company has" : "companies have"} no place here, for want of data. `}
        Drag a box to mark those in it; click a mark to open it.
      </Typography>
    </Box>
  );
}

/** What the pointer is over, the box that it drags, and what it does. */
function usePointer(frame: Frame, open: (row: One) => void, toggle: (rows: One[]) => void) {
  const [over, setOver] = useState<Dot | undefined>();
  const [from, setFrom] = useState<Corner | null>(null);
  const [to, setTo] = useState<Corner | null>(null);
  const place = (e: PointerEvent): Corner => {
    const r = e.currentTarget.getBoundingClientRect();
    return [e.clientX - r.left, e.clientY - r.top];
  };
  const hands = {
    onPointerDown: (e: PointerEvent) => {
      e.currentTarget.setPointerCapture(e.pointerId);
      setFrom(place(e));
    },
    onPointerMove: (e: PointerEvent) => {
      setOver(dotAt(frame, place(e)));
      if (from && (to || apart(from, place(e)))) setTo(place(e));
    },
    onPointerLeave: () => setOver(undefined),
    onPointerUp: (e: PointerEvent) => {
      const inside = from && to ? dotsWithin(frame, from, to) : [];
      const pressed = from && !to ? dotAt(frame, place(e)) : undefined;
      if (inside.length > 0) toggle(inside);
      if (pressed) open(pressed.mark);
      setFrom(null);
      setTo(null);
    },
  };
  // Marks that are gone say nothing any more.
  return {
    over: over && frame.dots.includes(over) ? over : undefined,
    dragged: from && to ? { from, to } : null,
    hands,
  };
}

/** Further than a hand trembles. */
const apart = (a: Corner, b: Corner): boolean => Math.hypot(a[0] - b[0], a[1] - b[1]) > 4;

const Dragged = ({ from, to }: { from: Corner; to: Corner }) => (
  <rect
    x={Math.min(from[0], to[0])}
    y={Math.min(from[1], to[1])}
    width={Math.abs(to[0] - from[0])}
    height={Math.abs(to[1] - from[1])}
    fill={tint("brassWash")}
    fillOpacity={0.5}
    stroke={tint("brass")}
  />
);

const Names = ({ named }: { named: Dot[] }) => (
  <g fontSize={11} textAnchor="middle" fill={tint("ink")} stroke={tint("paper")} strokeWidth={3} paintOrder="stroke">
    {named.map(({ mark, left, top }) => (
      <text key={mark.symbol} x={left} y={top - 8} pointerEvents="none">
        {mark.name}
      </text>
    ))}
  </g>
);

/** Pixels of what is told of a mark. */
const TOLD = 230;

function Told({ map, dot: { mark: m, left, top }, width }: { map: Answer; dot: Dot; width: number }) {
  const values = [m.x, m.y, m.size, m.tint];
  const axes = [map.x, map.y, map.size, map.tint];
  return (
    <Paper
      elevation={2}
      sx={{
        position: "absolute",
        left: left + TOLD + 24 > width ? left - TOLD - 12 : left + 12,
        top: Math.min(top, HEIGHT - 110),
        width: TOLD,
        px: 1,
        py: 0.5,
        fontSize: 12,
        pointerEvents: "none",
      }}
    >
      <b>{m.name}</b> <span className="second">{m.symbol}</span>
      {axes.map((axis, i) => {
        const value = values[i];
        return (
          axis &&
          axes.findIndex((a) => a?.formula === axis.formula) === i && (
            <Box key={axis.formula} sx={{ display: "flex", justifyContent: "space-between", gap: 1 }}>
              <span className="second">{axis.label}</span>
              {typeof value === "number" ? inUnit(value, axis.unit) : "–"}
            </Box>
          )
        );
      })}
    </Paper>
  );
}
