// A small line of what was, its end marked: as high and wide as a word or two.
import { memo } from "react";
import { tint } from "../theme/theme";

interface Props {
  values: (number | null | undefined)[];
  width: number;
  height: number;
  label: string;
  /** A level that is drawn across. */
  level?: number;
}

export const Sparkline = memo(function Sparkline({ values, width, height, label, level }: Props) {
  const known = values.flatMap((v, i) => (typeof v === "number" ? [[i, v] as const] : []));
  if (known.length < 2) return null;
  const all = [...known.map(([, v]) => v), ...(level === undefined ? [] : [level])];
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const x = (i: number) => 1 + (i / Math.max(values.length - 1, 1)) * (width - 5);
  const y = (v: number) => (high === low ? height / 2 : 3 + ((high - v) / (high - low)) * (height - 6));
  const last = known.at(-1) ?? [0, 0];
  return (
    <svg role="img" aria-label={label} width={width} height={height} style={{ display: "block", overflow: "visible" }}>
      {level !== undefined && (
        <line x1={0} x2={width} y1={y(level)} y2={y(level)} stroke={tint("brass")} strokeDasharray="1 3" />
      )}
      <polyline
        points={known.map(([i, v]) => `${x(i).toFixed(1)},${y(v).toFixed(1)}`).join(" ")}
        fill="none"
        stroke={tint("ink")}
        strokeWidth={1.25}
        strokeLinejoin="round"
      />
      <circle cx={x(last[0])} cy={y(last[1])} r={2.5} fill={tint("brass")} />
    </svg>
  );
});
