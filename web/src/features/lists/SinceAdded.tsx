// How the price went since a company was added, over how the median company did: two slopes from one point.
import { memo } from "react";
import { signed } from "../../headless/format";
import { tint } from "../../theme/theme";

interface Props {
  since: number | null;
  universe: number | null;
}

const WIDTH = 44;
const HEIGHT = 22;
/** A change that goes from one edge to the other. */
const FULL = 0.5;

const end = (change: number): number => {
  const share = Math.min(Math.max(change / FULL, -1), 1);
  return HEIGHT / 2 - (share * (HEIGHT - 4)) / 2;
};

export const SinceAdded = memo(function SinceAdded({ since, universe }: Props) {
  if (since === null) return <span className="faint">–</span>;
  const line = (to: number, colour: string, width: number) => (
    <line x1={1} y1={HEIGHT / 2} x2={WIDTH - 1} y2={to} stroke={colour} strokeWidth={width} strokeLinecap="round" />
  );
  return (
    <span style={{ display: "inline-flex", alignItems: "center", gap: 6, justifyContent: "flex-end", width: "100%" }}>
      <svg width={WIDTH} height={HEIGHT} aria-hidden="true">
        {universe !== null && line(end(universe), tint("history"), 1)}
        {line(end(since), tint(since < 0 ? "clay" : "teal"), 1.75)}
      </svg>
      <span style={{ width: 52, textAlign: "right" }}>{signed(since)}</span>
    </span>
  );
});
