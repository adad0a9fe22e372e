// How far something ran ahead, to the right, or behind, to the left, beside others on one scale.
import { tint } from "../theme/theme";

const WIDE = 120;

interface Props {
  /** The excess; nothing is drawn where it is not known. */
  x: number | null | undefined;
  /** The largest of all, either way, in the same unit. */
  most: number;
}

export function ExcessBar({ x, most }: Props) {
  if (x == null) return null;
  const long = (Math.abs(x) / most) * (WIDE / 2 - 2);
  return (
    <svg width={WIDE} height={12} aria-hidden>
      <line x1={WIDE / 2} x2={WIDE / 2} y1={0} y2={12} stroke={tint("hairline")} />
      <rect x={x < 0 ? WIDE / 2 - long : WIDE / 2} y={2} width={long} height={8} fill={tint(x < 0 ? "clay" : "teal")} />
    </svg>
  );
}
