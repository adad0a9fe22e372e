// The marks of a map and its axes, drawn; a dragged box marks those in it.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { memo, type PointerEvent, useMemo, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { inUnit } from "../../headless/format";
import { useCompanyMarks } from "../../headless/marks";
import { ranks, type Scale, scaleOf } from "../../headless/scale";
import { useWidth } from "../../headless/useWidth";
import { tint } from "../../theme/theme";

type Answer = Schemas["MapAnswer"];
type One = Schemas["MapMark"];

const HEIGHT = 470;
const EDGE = { left: 64, right: 16, top: 14, bottom: 44 };

interface Frame {
  width: number;
  x: Scale;
  y: Scale;
  left: (v: number) => number;
  top: (v: number) => number;
}

export function Marks({ map, dear, open }: { map: Answer; dear: boolean; open: (row: One) => void }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const marks = useCompanyMarks<One>();
  const [from, setFrom] = useState<[number, number] | null>(null);
  const [to, setTo] = useState<[number, number] | null>(null);
  const frame = useMemo((): Frame => {
    const [x, y] = [scaleOf(map.marks.map((m) => m.x)), scaleOf(map.marks.map((m) => m.y))];
    return {
      width,
      x,
      y,
      left: (v) => EDGE.left + x.at(v) * (width - EDGE.left - EDGE.right),
      top: (v) => HEIGHT - EDGE.bottom - y.at(v) * (HEIGHT - EDGE.top - EDGE.bottom),
    };
  }, [map, width]);
  const place = (e: PointerEvent): [number, number] => {
    const r = e.currentTarget.getBoundingClientRect();
    return [e.clientX - r.left, e.clientY - r.top];
  };
  const pressed = useRef<string | null>(null);
  const end = () => {
    const mark = map.marks.find((m) => m.symbol === pressed.current);
    if (mark) open(mark);
    if (from && to) {
      const inside = map.marks.filter((m) => within(frame.left(m.x), frame.top(m.y), from, to));
      if (inside.length > 0) marks.toggle(inside);
    }
    setFrom(null);
    setTo(null);
  };
  const words = `${map.marks.length} companies: ${map.x.label} to the right, ${map.y.label} upwards`;
  return (
    <Box ref={box}>
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={words}
        style={{ display: "block", touchAction: "none", userSelect: "none" }}
        onPointerDown={(e) => {
          pressed.current = e.target instanceof Element ? e.target.getAttribute("data-mark") : null;
          if (pressed.current) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          setFrom(place(e));
        }}
        onPointerMove={(e) => from && setTo(place(e))}
        onPointerUp={end}
      >
        <Lines map={map} frame={frame} />
        <Dots map={map} frame={frame} dear={dear} isMarked={marks.isMarked} />
        {from && to && (
          <rect
            x={Math.min(from[0], to[0])}
            y={Math.min(from[1], to[1])}
            width={Math.abs(to[0] - from[0])}
            height={Math.abs(to[1] - from[1])}
            fill={tint("brassWash")}
            fillOpacity={0.5}
            stroke={tint("brass")}
          />
        )}
      </svg>
      <Typography variant="caption" color="textSecondary" component="p">
        {map.without > 0 &&
          `${map.without} ${map.without === 1 ? "company has" : "companies have"} no place here, for want of data. `}
        Drag a box to mark those in it; click a mark to open it.
      </Typography>
    </Box>
  );
}

const within = (x: number, y: number, a: [number, number], b: [number, number]): boolean =>
  (x - a[0]) * (x - b[0]) <= 0 && (y - a[1]) * (y - b[1]) <= 0;

function Lines({ map, frame: f }: { map: Answer; frame: Frame }) {
  const bottom = HEIGHT - EDGE.bottom;
  const middle = (at: number, text: string, upright: boolean) => (
    <g>
      <line
        x1={upright ? at : EDGE.left}
        x2={upright ? at : f.width - EDGE.right}
        y1={upright ? EDGE.top : at}
        y2={upright ? bottom : at}
        stroke={tint("history")}
        strokeDasharray="2 3"
      />
      <text
        x={upright ? at + 4 : f.width - EDGE.right}
        y={upright ? EDGE.top + 8 : at - 4}
        textAnchor={upright ? "start" : "end"}
        fill={tint("second")}
        fontSize={11}
      >
        {text}
      </text>
    </g>
  );
  return (
    <g fontSize={12} fill={tint("second")}>
      {f.x.ticks.map((t) => (
        <g key={t}>
          <line x1={f.left(t)} x2={f.left(t)} y1={EDGE.top} y2={bottom} stroke={tint("hairline")} strokeWidth={0.6} />
          <text x={f.left(t)} y={bottom + 16} textAnchor="middle">
            {inUnit(t, map.x.unit)}
          </text>
        </g>
      ))}
      {f.y.ticks.map((t) => (
        <g key={t}>
          <line
            x1={EDGE.left}
            x2={f.width - EDGE.right}
            y1={f.top(t)}
            y2={f.top(t)}
            stroke={tint("hairline")}
            strokeWidth={0.6}
          />
          <text x={EDGE.left - 6} y={f.top(t) + 4} textAnchor="end">
            {inUnit(t, map.y.unit)}
          </text>
        </g>
      ))}
      <text x={f.width / 2} y={HEIGHT - 8} textAnchor="middle">
        {map.x.label}
      </text>
      <text transform={`translate(12 ${HEIGHT / 2}) rotate(-90)`} textAnchor="middle">
        {map.y.label}
      </text>
      {typeof map.x.median === "number" &&
        middle(f.left(map.x.median), `in the middle ${inUnit(map.x.median, map.x.unit)}`, true)}
      {typeof map.y.median === "number" &&
        middle(f.top(map.y.median), `in the middle ${inUnit(map.y.median, map.y.unit)}`, false)}
    </g>
  );
}

interface DotsProps {
  map: Answer;
  frame: Frame;
  dear: boolean;
  isMarked: (m: One) => boolean;
}

/** Names that are written at most, and where there is a crowd; pixels of a letter and of a line. */
const NAMES = 24;
const CROWD = 100;
const NAMES_IN_A_CROWD = 8;
const LETTER = 6.2;
const LINE = 13;

const Dots = memo(function Dots({ map, frame: f, dear, isMarked }: DotsProps) {
  const sizes = useMemo(() => ranks(map.marks.map((m) => m.size)), [map]);
  const tints = useMemo(() => ranks(map.marks.map((m) => m.tint)), [map]);
  const named = useMemo(() => withRoom(map.marks, f, isMarked), [map, f, isMarked]);
  const radius = (i: number) => (map.size ? 3 + 6 * (sizes[i] ?? 0) : 4);
  const colour = (i: number) => {
    const rank = tints[i];
    if (!map.tint) return tint("teal");
    return rank === null || rank === undefined ? tint("history") : mixed(dear ? 1 - rank : rank);
  };
  const says = (m: One) =>
    [map.x, map.y, map.size, map.tint].flatMap((axis, i) => {
      const value = [m.x, m.y, m.size, m.tint][i];
      return axis ? `${axis.label} ${typeof value === "number" ? inUnit(value, axis.unit) : "not known"}` : [];
    });
  return (
    <g>
      {map.marks.map((m, i) => (
        <circle
          key={m.symbol}
          data-mark={m.symbol}
          cx={f.left(m.x)}
          cy={f.top(m.y)}
          r={radius(i)}
          fill={colour(i)}
          fillOpacity={0.7}
          stroke={isMarked(m) ? tint("brass") : tint("panel")}
          strokeWidth={isMarked(m) ? 2.5 : 0.7}
          style={{ cursor: "pointer" }}
        >
          <title>{`${m.name} (${m.symbol})\n${says(m).join("\n")}`}</title>
        </circle>
      ))}
      {named.map((m) => (
        <text
          key={m.symbol}
          x={f.left(m.x)}
          y={f.top(m.y) - 8}
          textAnchor="middle"
          fontSize={11}
          fill={tint("ink")}
          stroke={tint("paper")}
          strokeWidth={3}
          paintOrder="stroke"
          pointerEvents="none"
        >
          {m.name}
        </text>
      ))}
    </g>
  );
});

/** From clay over grey to teal. */
const mixed = (rank: number): string =>
  rank < 0.5
    ? `color-mix(in srgb, ${tint("clay")} ${Math.round((0.5 - rank) * 200)}%, ${tint("history")})`
    : `color-mix(in srgb, ${tint("teal")} ${Math.round((rank - 0.5) * 200)}%, ${tint("history")})`;

/** Those whose names have room: marked ones first, then in the screen's order. */
function withRoom(all: One[], f: Frame, isMarked: (m: One) => boolean): One[] {
  const kept: One[] = [];
  const clear = (a: One, b: One) =>
    Math.abs(f.left(a.x) - f.left(b.x)) > ((a.name.length + b.name.length) / 2) * LETTER ||
    Math.abs(f.top(a.y) - f.top(b.y)) > LINE;
  const inside = (m: One) => {
    const half = (m.name.length * LETTER) / 2;
    return f.left(m.x) > EDGE.left + half && f.left(m.x) < f.width - EDGE.right - half;
  };
  for (const m of [...all.filter(isMarked), ...all.filter((m) => !isMarked(m))]) {
    if (kept.length >= (all.length > CROWD ? NAMES_IN_A_CROWD : NAMES)) break;
    if (inside(m) && kept.every((k) => clear(k, m))) kept.push(m);
  }
  return kept;
}
