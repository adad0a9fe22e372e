// The prices that matter to an order on one upright axis: the year's low and high, the last price, the price to pay, the value, and at its
// right how far each of the last sessions reached; the limit is dragged on it.
import Box from "@mui/material/Box";
import { type PointerEvent, useRef } from "react";
import type { Schemas } from "../../../api/client";
import { price } from "../../../headless/format";
import { tint } from "../../../theme/theme";
import { apart } from "../../../charts/ends";

const TALL = 300;
const WIDE = 206;
const AXIS = 100;
const EDGE = 12;

interface Props {
  sheet: Schemas["OrderSheet"];
  sells: boolean;
  setLimit: (to: number) => void;
}

export function PriceRuler({ sheet, sells, setLimit }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const known = [sheet.low_52w, sheet.high_52w, sheet.last, sheet.limit].filter(
    (x): x is number => typeof x === "number",
  );
  // What lies far above would press all else together: it stands at the top with an arrow.
  const top = Math.max(...known);
  const near = [sheet.buy_below, sheet.value].filter((x): x is number => typeof x === "number" && x < 1.4 * top);
  const [low, high] = [Math.min(...known, ...near) * 0.97, Math.max(...known, ...near) * 1.03];
  const y = (p: number) => EDGE + ((high - Math.min(p, high)) / (high - low)) * (TALL - 2 * EDGE);
  const priceAt = (clientY: number) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return sheet.limit;
    const at = (clientY - box.top - EDGE) / (TALL - 2 * EDGE);
    const to = high - Math.min(Math.max(at, 0), 1) * (high - low);
    return Number(to.toPrecision(3));
  };
  const drag = (e: PointerEvent<SVGSVGElement>) => {
    if (e.buttons === 1) setLimit(priceAt(e.clientY));
  };
  const marks = apart(
    [
      { p: sheet.high_52w, label: "high", tone: "second" as const },
      { p: sheet.low_52w, label: "low", tone: "second" as const },
      { p: sheet.value, label: "value", tone: "teal" as const },
      { p: sheet.buy_below, label: "to pay", tone: "brass" as const },
      { p: sheet.last, label: "last", tone: "ink" as const },
    ].flatMap((m) => (typeof m.p === "number" ? [{ ...m, p: m.p, at: y(m.p) }] : [])),
  );
  const touched = (p: number) => (sells ? p >= sheet.limit : p <= sheet.limit);
  const step = (WIDE - AXIS - 16) / Math.max(sheet.reached.length, 1);
  return (
    <Box sx={{ width: WIDE, flexShrink: 0 }}>
      <svg
        ref={svg}
        role="img"
        aria-label={`Limit ${price(sheet.limit)}, last price ${price(sheet.last)}`}
        width={WIDE}
        height={TALL}
        style={{ cursor: "ns-resize", touchAction: "none", userSelect: "none" }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          drag(e);
        }}
        onPointerMove={drag}
      >
        <line x1={AXIS} x2={AXIS} y1={EDGE} y2={TALL - EDGE} stroke={tint("hairline")} />
        {sheet.reached.map((p, i) => (
          <line
            key={i}
            x1={AXIS + 8 + i * step}
            x2={AXIS + 8 + i * step}
            y1={y(p)}
            y2={y(p) + 5}
            stroke={touched(p) ? tint("brass") : tint("second")}
            strokeOpacity={touched(p) ? 1 : 0.45}
          />
        ))}
        {marks.map((m) => (
          <g key={m.label}>
            <line x1={AXIS - 6} x2={AXIS + 4} y1={y(m.p)} y2={y(m.p)} stroke={tint(m.tone)} strokeWidth={1.5} />
            <text x={AXIS - 10} y={m.at + 4} textAnchor="end" fontSize={11} fill={tint(m.tone)}>
              {m.p > high ? "↑ " : ""}
              {m.label} {price(m.p)}
            </text>
          </g>
        ))}
        <line
          x1={AXIS - 8}
          x2={WIDE - 4}
          y1={y(sheet.limit)}
          y2={y(sheet.limit)}
          stroke={tint("brass")}
          strokeWidth={3}
        />
      </svg>
    </Box>
  );
}
