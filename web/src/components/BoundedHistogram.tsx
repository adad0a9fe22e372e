// A distribution with the bounds of a criterion as handles to drag on it.
import { useRef, useState } from "react";
import type { Criterion, Schemas, Unit } from "../api/client";
import { rounded } from "../headless/criterion";
import { inUnit } from "../headless/format";
import { tint } from "../theme/theme";

const WIDTH = 224;
const HEIGHT = 34;
const BASE = 28;

interface Props {
  histogram: Schemas["Histogram"];
  criterion: Criterion;
  unit: Unit | null | undefined;
  label: string;
  onBound: (bound: "min" | "max", value: number) => void;
}

export function BoundedHistogram({ histogram: now, criterion, unit, label, onBound }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  // The axis rests while one drags, so that the handle stays under the pointer.
  const [held, setHeld] = useState<Props["histogram"] | null>(null);
  const { low, high, counts } = held ? { ...now, low: held.low, high: held.high } : now;
  const most = Math.max(...now.counts, 1);
  const bin = (now.high - now.low) / counts.length;
  const x = (v: number) => ((Math.min(Math.max(v, low), high) - low) / (high - low)) * WIDTH;
  const value = (clientX: number) => {
    const box = svg.current?.getBoundingClientRect();
    const share = box ? Math.min(Math.max((clientX - box.left) / WIDTH, 0), 1) : 0;
    return low + share * (high - low);
  };
  // A handle stops at the other one.
  const set = (bound: "min" | "max", to: number) => {
    const round = rounded(to, high - low, unit);
    const other = bound === "min" ? criterion.max : criterion.min;
    const past = typeof other === "number" && (bound === "min" ? round > other : round < other);
    onBound(bound, past ? other : round);
  };
  const inside = (middle: number) =>
    (typeof criterion.min !== "number" || middle >= criterion.min) &&
    (typeof criterion.max !== "number" || middle <= criterion.max);
  const bounds = (["min", "max"] as const).flatMap((b) => {
    const v = criterion[b];
    return typeof v === "number" ? [{ bound: b, v }] : [];
  });
  return (
    <svg
      ref={svg}
      width={WIDTH}
      height={HEIGHT}
      style={{ display: "block", overflow: "visible" }}
      aria-label={`Distribution of ${label}`}
    >
      {counts.map((n, i) => {
        const start = now.low + i * bin;
        const tall = n === 0 ? 0 : Math.max((Math.sqrt(n) / Math.sqrt(most)) * 25, 1.5);
        return (
          <rect
            key={i}
            x={x(start)}
            width={Math.max(x(start + bin) - x(start) - 1, 0.5)}
            y={BASE - tall}
            height={tall}
            fill={inside(start + bin / 2) ? tint("bar") : tint("hairline")}
          />
        );
      })}
      <line x1={0} x2={WIDTH} y1={BASE + 0.5} y2={BASE + 0.5} stroke={tint("history")} />
      {bounds.map(({ bound, v }) => (
        <g
          key={bound}
          role="slider"
          tabIndex={0}
          aria-label={`${bound === "min" ? "Minimum" : "Maximum"} ${label}`}
          aria-valuenow={v}
          aria-valuetext={inUnit(v, unit)}
          style={{ cursor: "ew-resize", touchAction: "none" }}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            setHeld(now);
          }}
          onPointerMove={(e) => e.buttons === 1 && set(bound, value(e.clientX))}
          onPointerUp={() => setHeld(null)}
          onKeyDown={(e) => {
            const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
            const least = unit === "count" || unit === "rank" || unit === "days" ? 1 : 0;
            if (by) set(bound, v + by * Math.max((high - low) / 50, least));
          }}
        >
          <rect x={x(v) - 9} y={0} width={18} height={HEIGHT} fill="transparent" />
          <line x1={x(v)} x2={x(v)} y1={2} y2={BASE} stroke={tint("brass")} strokeWidth={2} />
          <circle cx={x(v)} cy={BASE} r={4.5} fill={tint("brass")} />
        </g>
      ))}
    </svg>
  );
}
