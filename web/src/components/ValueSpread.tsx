// All valuations on one axis of money: a tick each (set-apart ones hollow), the quartile band, the central value as a
// tall mark, the buy-below notch, the price as a flag.
import { useRef } from "react";
import type { Spread } from "../api/client";
import { price as money } from "../headless/format";
import { tint } from "../theme/theme";

interface Props {
  spread: Spread;
  width: number;
  large?: boolean;
  /** Moves the notch: the price one would pay at most. */
  onBuyBelow?: (price: number) => void;
}

/** The axis shows the middle of the valuations, and always price, value and notch. */
function axis(s: Spread): [number, number] {
  const all = [...s.kept].sort((a, b) => a - b);
  const at = (p: number) => all[Math.round((all.length - 1) * p)] ?? s.value;
  const low = Math.min(at(0.08), s.price, s.buy_below, s.low);
  const high = Math.max(at(0.92), s.price, s.value, s.high);
  const pad = (high - low) * 0.06 || 1;
  return [Math.max(low - pad, 0), high + pad];
}

/** Price, value and what to pay at most, in words. */
export const spreadInWords = (s: Spread): string =>
  `Price ${money(s.price)}, value ${money(s.value)}, pay at most ${money(s.buy_below)}; half of the valuations from ${money(s.low)} to ${money(s.high)}`;

/** A pole with a flag to its right. */
function Flag({ x, top, size }: { x: number; top: number; size: number }) {
  const pole = `M${x - 0.75} ${top} h1.5 v${size * 1.9} h-1.5 Z`;
  const cloth = `M${x} ${top} h${size} l${-size * 0.3} ${size * 0.4} l${size * 0.3} ${size * 0.4} h${-size} Z`;
  return <path d={pole + cloth} fill={tint("brass")} />;
}

export function ValueSpread(p: Props) {
  return p.large ? (
    <LargeSpread {...p} />
  ) : (
    <span data-hint={spreadInWords(p.spread)}>
      <SpreadCell {...p} />
    </span>
  );
}

/** Small and without a hint, for tables: one path a colour, since there are many and they change as one scrolls. */
const SMALL = { display: "block", overflow: "visible" } as const;

export function SpreadCell({ spread: s, width }: { spread: Spread; width: number }) {
  const base = 17;
  const [low, high] = axis(s);
  const x = (v: number) =>
    Math.round(((Math.min(Math.max(v, low), high) - low) / (high - low)) * (width - 8) * 10 + 40) / 10;
  const inside = (values: number[]) => values.filter((v) => v >= low && v <= high);
  const box = (from: number, to: number, tall: number) =>
    `M${x(from)} ${base} V${base - tall} H${Math.max(x(to), x(from) + 1)} V${base} Z`;
  const [value, notch, price] = [x(s.value), x(s.buy_below), x(s.price)];
  const hollow = inside(s.outliers).map((v) => `M${x(v) - 2} ${base - 3} a2 2 0 1 0 4 0 a2 2 0 1 0 -4 0`);
  return (
    <svg width={width} height={24} role="img" aria-label={spreadInWords(s)} style={SMALL}>
      <path d={s.buy_below < s.value ? box(s.buy_below, s.value, 6) : ""} fill={tint("tealWash")} />
      <path d={`${box(s.low, s.high, 2)} M2 ${base} H${width - 2} v1 H2 Z`} fill={tint("hairline")} />
      <path
        d={inside(s.kept)
          .map((v) => `M${x(v)} ${base} v-5`)
          .concat(hollow)
          .join("")}
        fill="none"
        stroke={tint("faint")}
      />
      <path d={`M${value - 1} ${base - 13} h2 v16 h-2 Z`} fill={tint("ink")} />
      <path d={`M${notch} ${base + 1} l4.5 5 h-9 Z`} fill={tint("teal")} />
      <path d={`M${price - 0.75} 2 h1.5 v13.3 h-1.5 Z M${price} 2 h7 l-2.1 2.8 l2.1 2.8 h-7 Z`} fill={tint("brass")} />
    </svg>
  );
}

function LargeSpread({ spread: s, width, onBuyBelow }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const height = 84;
  const base = 50;
  const [low, high] = axis(s);
  const x = (v: number) => ((Math.min(Math.max(v, low), high) - low) / (high - low)) * (width - 8) + 4;
  const at = (v: number) => Math.round(x(v) * 10) / 10;
  const inside = (values: number[]) => values.filter((v) => v >= low && v <= high);
  const words = spreadInWords(s);
  const drag = (e: React.PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!onBuyBelow || !box || e.buttons !== 1) return;
    onBuyBelow(low + ((e.clientX - box.left - 4) / (width - 8)) * (high - low));
  };
  const step = (e: React.KeyboardEvent) => {
    const by = { ArrowLeft: -0.01, ArrowRight: 0.01 }[e.key];
    if (onBuyBelow && by) onBuyBelow(s.buy_below + by * s.value);
  };
  const notch = x(s.buy_below);
  const size = 7;
  return (
    <svg
      ref={svg}
      width={width}
      height={height}
      role={onBuyBelow ? "group" : "img"}
      aria-label={words}
      style={{ display: "block", overflow: "visible" }}
    >
      <rect x={notch} width={Math.max(x(s.value) - notch, 0)} y={base - 12} height={12} fill={tint("tealWash")} />
      <rect x={x(s.low)} width={Math.max(x(s.high) - x(s.low), 1)} y={base - 4} height={4} fill={tint("hairline")} />
      <line x1={2} x2={width - 2} y1={base} y2={base} stroke={tint("hairline")} />
      <path
        d={inside(s.kept)
          .map((v) => `M${at(v)} ${base} v-12`)
          .join("")}
        stroke={tint("faint")}
        opacity={0.75}
      />
      {s.outliers.length > 0 && (
        <path
          d={inside(s.outliers)
            .map((v) => `M${at(v)} ${base - 3} m-2 0 a2 2 0 1 0 4 0 a2 2 0 1 0 -4 0`)
            .join("")}
          fill="none"
          stroke={tint("faint")}
        />
      )}
      <line x1={x(s.value)} x2={x(s.value)} y1={base - 26} y2={base + 3} stroke={tint("ink")} strokeWidth={2.5} />
      <path d={`M${notch} ${base + 1} l${size} ${size * 1.1} h${-2 * size} Z`} fill={tint("teal")} />
      <Flag x={x(s.price)} top={base - 22} size={11} />
      <Labels s={s} x={x} width={width} />
      {onBuyBelow && (
        <rect
          x={notch - 12}
          y={base - 2}
          width={24}
          height={18}
          fill="transparent"
          style={{ cursor: "ew-resize", touchAction: "none" }}
          role="slider"
          tabIndex={0}
          aria-label="Price to pay at most"
          aria-valuenow={s.buy_below}
          aria-valuetext={money(s.buy_below)}
          onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
          onPointerMove={drag}
          onKeyDown={step}
        />
      )}
    </svg>
  );
}

/** Labels that keep to the picture: value above, pay-at-most below, price at its flag unless it would cover the value. */
function Labels({ s, x, width }: { s: Spread; x: (v: number) => number; width: number }) {
  const inside = (at: number, half: number) => Math.min(Math.max(at, half), width - half);
  const near = Math.abs(x(s.price) - x(s.value)) < 74;
  const side = x(s.price) < x(s.value) ? -1 : 1;
  const priceAt = near ? x(s.value) + side * 74 : x(s.price);
  return (
    <g fontSize={12} textAnchor="middle" fontFamily="inherit">
      <text x={inside(x(s.value), 34)} y={16} fill={tint("ink")} fontWeight={600}>
        value {money(s.value)}
      </text>
      <text x={inside(priceAt, 22)} y={16} fill={tint("brass")} fontWeight={600}>
        {money(s.price)}
      </text>
      <text x={inside(x(s.buy_below), 56)} y={76} fill={tint("teal")}>
        pay at most {money(s.buy_below)}
      </text>
    </g>
  );
}
