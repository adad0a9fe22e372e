// What all accounts were worth, and the same money in the index: two lines from the same point, over what was paid in.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useRef } from "react";
import type { Schemas } from "../../../api/client";
import { compact, day } from "../../../headless/format";
import { useWidth } from "../../../headless/useWidth";
import { tint } from "../../../theme/theme";
import { apart } from "../../../charts/ends";

const TALL = 190;
const RIGHT = 100;
const FOOT = 18;

export function WealthChart({ page }: { page: Schemas["LedgerPage"] }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const { wealth, base } = page;
  return (
    <Box ref={box} component="section" aria-label="Wealth" sx={{ minWidth: 0 }}>
      <Typography variant="h2">Wealth against the same money in the index</Typography>
      {wealth.length < 2 ? (
        <Typography variant="body2" color="textSecondary" sx={{ py: 2 }}>
          It is drawn from the second session on.
        </Typography>
      ) : (
        <Lines wealth={wealth} base={base} width={width} />
      )}
    </Box>
  );
}

interface LinesProps {
  wealth: Schemas["WealthPoint"][];
  base: string;
  width: number;
}

function Lines({ wealth, base, width }: LinesProps) {
  const all = wealth.flatMap((w) => [w.value, w.paid_in, ...(w.index == null ? [] : [w.index])]);
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const x = (i: number) => (i / (wealth.length - 1)) * (width - RIGHT);
  const y = (v: number) => 8 + ((high - v) / (high - low || 1)) * (TALL - 16 - FOOT);
  const path = (of: (w: Schemas["WealthPoint"]) => number | null | undefined) =>
    wealth.flatMap((w, i) => (of(w) == null ? [] : [`${x(i).toFixed(1)},${y(of(w) as number).toFixed(1)}`])).join(" ");
  const [first, last] = [wealth[0], wealth.at(-1)];
  if (!first || !last) return null;
  const ends = apart(
    [
      { label: "worth", v: last.value, tone: "ink" as const },
      ...(last.index == null ? [] : [{ label: "index", v: last.index, tone: "teal" as const }]),
      { label: "paid in", v: last.paid_in, tone: "second" as const },
    ].map((e) => ({ ...e, at: y(e.v) })),
  );
  return (
    <svg
      role="img"
      aria-label={`Worth ${compact(last.value)} ${base} on ${day(last.date)}, in the index ${last.index == null ? "not known" : compact(last.index)}`}
      width={width}
      height={TALL}
      style={{ display: "block" }}
    >
      <polyline points={path((w) => w.paid_in)} fill="none" stroke={tint("hairline")} strokeWidth={1.5} />
      <polyline points={path((w) => w.index)} fill="none" stroke={tint("teal")} strokeWidth={1.25} />
      <polyline points={path((w) => w.value)} fill="none" stroke={tint("ink")} strokeWidth={1.75} />
      {ends.map((e) => (
        <text key={e.label} x={width - RIGHT + 6} y={e.at + 4} fontSize={11.5} fill={tint(e.tone)}>
          {e.label} {compact(e.v)}
        </text>
      ))}
      <text x={0} y={TALL - 3} fontSize={11} fill={tint("second")}>
        {day(first.date)}
      </text>
      <text x={width - RIGHT} y={TALL - 3} textAnchor="end" fontSize={11} fill={tint("second")}>
        {day(last.date)}
      </text>
    </svg>
  );
}
