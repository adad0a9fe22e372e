// Where today stands in a company's own history: a hairline from low to high, thicker between the quartiles, a tick at
// the median, a diamond at today.
import type { OwnRange, Unit } from "../api/client";
import { inUnit } from "../headless/format";
import { tint } from "../theme/theme";

interface Props {
  range: OwnRange;
  unit: Unit | undefined;
  lowerIsBetter: boolean;
  width?: number;
  /** Neither end is the better one. */
  neutral?: boolean;
}

/** "8 of 100 · cheaper than in 92 % of its ten years" */
export function placeInWords(range: OwnRange, lowerIsBetter: boolean): string {
  const rank = Math.round(range.rank);
  const below = rank <= 50;
  const share = below ? 100 - rank : rank;
  const word = lowerIsBetter ? (below ? "cheaper" : "dearer") : below ? "lower" : "higher";
  return `${rank} of 100 · ${word} than in ${share}\u202f% of its own months`;
}

/** The place and the figures behind it, in words. */
export function rangeInWords(range: OwnRange, unit: Unit | undefined, lowerIsBetter: boolean): string {
  const show = (v: number) => inUnit(v, unit);
  return `${placeInWords(range, lowerIsBetter)}. Low ${show(range.low)}, median ${show(range.median)}, high ${show(range.high)}, today ${show(range.today)}.`;
}

export function RangeLine(p: Props) {
  return (
    <span data-hint={rangeInWords(p.range, p.unit, p.lowerIsBetter)}>
      <RangeDrawing {...p} />
    </span>
  );
}

/** The drawing alone, for tables. */
export function RangeDrawing({ range, lowerIsBetter, width = 96, neutral = false }: Props) {
  const pad = 5;
  // One wild month would press the rest into a corner: wide positive ranges are drawn on a log scale.
  const wide = range.low > 0 && range.high > 6 * range.low;
  const along = (v: number) => (wide ? Math.log(v) : v);
  const length = along(range.high) - along(range.low);
  const scale = length > 0 ? (width - 2 * pad) / length : 0;
  const at = (v: number) => pad + (along(Math.min(Math.max(v, range.low), range.high)) - along(range.low)) * scale;
  const good = lowerIsBetter ? range.rank <= 33 : range.rank >= 67;
  const bad = lowerIsBetter ? range.rank >= 67 : range.rank <= 33;
  const colour = neutral ? tint("second") : good ? tint("teal") : bad ? tint("clay") : tint("second");
  const x = at(range.today);
  return (
    <svg
      width={width}
      height={18}
      role="img"
      aria-label={placeInWords(range, lowerIsBetter)}
      style={{ display: "block", flexShrink: 0 }}
    >
      <line x1={pad} x2={width - pad} y1={9} y2={9} stroke={tint("history")} strokeWidth={1} />
      <rect
        x={at(range.lower_quartile)}
        width={Math.max(at(range.upper_quartile) - at(range.lower_quartile), 1)}
        y={6.5}
        height={5}
        fill={tint("hairline")}
      />
      <line x1={at(range.median)} x2={at(range.median)} y1={4} y2={14} stroke={tint("faint")} strokeWidth={1} />
      <path d={`M${x - 4.5} 9 L${x} 4.5 L${x + 4.5} 9 L${x} 13.5 Z`} fill={colour} />
    </svg>
  );
}
