// Quality in five parts: each pillar as wide as its points, filled as far as it was reached.
import type { Figure } from "../api/client";
import { numberOf, plain } from "../headless/format";
import { tint } from "../theme/theme";

/** Pillars in order, with their points at most. */
export const PILLARS: [string, number][] = [
  ["Growth", 25],
  ["Profitability", 25],
  ["Balance sheet", 20],
  ["Owners' cash", 20],
  ["Alignment", 10],
];

/** The points of each pillar. */
export const qualityInWords = (pillars: Figure[]): string =>
  PILLARS.map(([label, most], i) => {
    const points = numberOf(pillars[i]);
    return `${label} ${points === null ? "not known" : plain(points, 0)} of ${most}`;
  }).join(" · ");

interface Props {
  pillars: Figure[];
  width: number;
  height?: number;
}

export function QualityBar(p: Props) {
  return (
    <span data-hint={qualityInWords(p.pillars)} style={{ lineHeight: 0 }}>
      <QualityDrawing {...p} />
    </span>
  );
}

/** The drawing alone, for tables: a frame a pillar, filled as far as its points reach. */
export function QualityDrawing({ pillars, width, height = 9 }: Props) {
  const free = width - (PILLARS.length - 1) * 2;
  let at = 0;
  const parts = PILLARS.map(([label, most], i) => {
    const [x, wide, points] = [at, (free * most) / 100, numberOf(pillars[i])];
    at += wide + 2;
    return { label, x, wide, filled: points === null ? null : (wide * points) / most };
  });
  return (
    <svg width={width} height={height} role="img" aria-label={`Quality: ${qualityInWords(pillars)}`}>
      {parts.map(({ label, x, wide, filled }) =>
        filled === null ? (
          <rect
            key={label}
            x={x + 0.5}
            y={0.5}
            width={wide - 1}
            height={height - 1}
            fill="none"
            stroke={tint("history")}
            strokeDasharray="2 2"
          />
        ) : (
          <g key={label}>
            <rect x={x} width={wide} height={height} rx={1} fill={tint("tray")} />
            <rect x={x} width={filled} height={height} rx={1} fill={tint("teal")} />
          </g>
        ),
      )}
    </svg>
  );
}
