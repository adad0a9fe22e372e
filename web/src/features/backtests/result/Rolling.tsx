// How it did over any three, and any five years: annual excess return by the month in which they end.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useRef } from "react";
import type { Outcome } from "../../../api/backtests";
import { percent, signed } from "../../../headless/format";
import { useWidth } from "../../../headless/useWidth";
import { tint } from "../../../theme/theme";
import { WHOLE } from "./frame";

const TALL = 150;
const FOOT = 18;
const RIGHT = 84;
const LEFT = 44;

type Points = Outcome["rolling_3"];

export function Rolling({ outcome }: { outcome: Outcome }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const { rolling_3: three, rolling_5: five } = outcome;
  return (
    <Box ref={box} component="section" aria-label="Any three and five years" sx={{ minWidth: 0, mt: 3 }}>
      <Typography variant="h2">Over any three and any five years</Typography>
      {three.length < 2 ? (
        <Typography color="textSecondary">It is shorter than three years.</Typography>
      ) : (
        <>
          <Drawn three={three} five={five} width={width} />
          <Typography variant="body2" color="textSecondary">
            Ahead of the benchmark at the end of {share(three)} of all stretches of three years
            {five.length > 1 && ` and ${share(five)} of those of five`}.
          </Typography>
        </>
      )}
    </Box>
  );
}

const share = (of: Points): string => percent(of.filter((p) => p.value > 0).length / of.length);

function Drawn({ three, five, width }: { three: Points; five: Points; width: number }) {
  const all = [...three, ...five].map((p) => p.value);
  const [low, high] = [Math.min(...all, 0), Math.max(...all, 0)];
  const [first, last] = [three[0]?.date ?? "", three.at(-1)?.date ?? ""];
  const days = (iso: string) => Date.parse(iso);
  const x = (iso: string) =>
    LEFT + ((days(iso) - days(first)) / Math.max(days(last) - days(first), 1)) * (width - LEFT - RIGHT);
  const y = (v: number) => 8 + ((high - v) / (high - low || 1)) * (TALL - FOOT - 16);
  const path = (of: Points) => of.map((p) => `${x(p.date).toFixed(1)},${y(p.value).toFixed(1)}`).join(" ");
  const end = (of: Points) => of.at(-1)?.value ?? 0;
  return (
    <svg
      role="img"
      aria-label="Annual excess return over three and five years"
      width={width}
      height={TALL}
      viewBox={`0 0 ${width} ${TALL}`}
      style={WHOLE}
    >
      <line x1={LEFT} x2={width - RIGHT} y1={y(0)} y2={y(0)} stroke={tint("history")} />
      {[low, high].map((v) => (
        <text key={v} x={LEFT - 6} y={y(v) + 4} textAnchor="end" fontSize={11} fill={tint("second")}>
          {signed(v)}
        </text>
      ))}
      <polyline points={path(three)} fill="none" stroke={tint("ink")} strokeWidth={1.5} />
      <polyline points={path(five)} fill="none" stroke={tint("teal")} strokeWidth={1.5} strokeDasharray="5 3" />
      <text x={width - RIGHT + 6} y={y(end(three)) + 4} fontSize={11.5} fill={tint("ink")}>
        three years
      </text>
      {five.length > 1 && Math.abs(y(end(five)) - y(end(three))) > 12 && (
        <text x={width - RIGHT + 6} y={y(end(five)) + 4} fontSize={11.5} fill={tint("teal")}>
          five years
        </text>
      )}
      <text x={LEFT} y={TALL - 3} fontSize={11} fill={tint("second")}>
        {first.slice(0, 4)}
      </text>
      <text x={width - RIGHT} y={TALL - 3} textAnchor="end" fontSize={11} fill={tint("second")}>
        {last.slice(0, 4)}
      </text>
    </svg>
  );
}
