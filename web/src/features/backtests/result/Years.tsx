// The years as a row of bars: up what was earned over the benchmark, down what was missed.
import Box from "@mui/material/Box";
import { useRef } from "react";
import type { Outcome } from "../../../api/backtests";
import { signed } from "../../../headless/format";
import { useWidth } from "../../../headless/useWidth";
import { tint } from "../../../theme/theme";
import { alongDays, LEFT, RIGHT, WHOLE } from "./frame";

const TALL = 84;
const MIDDLE = 36;
const BAR = 26;

export function Years({ outcome }: { outcome: Outcome }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const x = alongDays(outcome, width);
  const years = Object.entries(outcome.by_year).map(([year, value]) => {
    const benchmark = outcome.benchmark_by_year[year] ?? 0;
    const [from, to] = [`${year}-01-01`, `${Number(year) + 1}-01-01`];
    const [a, b] = [Math.max(x(from), LEFT), Math.min(x(to), width - RIGHT)];
    return { year, value, benchmark, excess: value - benchmark, a, b };
  });
  const most = Math.max(0.01, ...years.map((y) => Math.abs(y.excess)));
  const said = years.map((y) => `${y.year}: ${signed(y.value)}, over the benchmark ${signed(y.excess)}`).join("; ");
  return (
    <Box ref={box} component="section" aria-label="Years" sx={{ minWidth: 0 }}>
      <svg role="img" aria-label={said} width={width} height={TALL} viewBox={`0 0 ${width} ${TALL}`} style={WHOLE}>
        <text x={LEFT - 6} y={MIDDLE + 4} textAnchor="end" fontSize={11} fill={tint("second")}>
          years
        </text>
        {years.map((y) => {
          const tall = (Math.abs(y.excess) / most) * BAR;
          const middle = (y.a + y.b) / 2;
          const narrow = y.b - y.a < 34;
          return (
            <g key={y.year} data-hint={`${y.year}: ${signed(y.value)}, the benchmark ${signed(y.benchmark)}`}>
              <rect x={y.a} y={0} width={Math.max(y.b - y.a, 1)} height={TALL} fill="transparent" />
              <rect
                x={y.a + 2}
                y={y.excess > 0 ? MIDDLE - tall : MIDDLE}
                width={Math.max(y.b - y.a - 4, 1)}
                height={Math.max(tall, 0.5)}
                fill={tint(y.excess < 0 ? "clay" : "teal")}
              />
              {!narrow && (
                <text x={middle} y={TALL - 6} textAnchor="middle" fontSize={11} fill={tint("second")}>
                  {signed(y.excess)}
                </text>
              )}
            </g>
          );
        })}
        <line x1={LEFT} x2={width - RIGHT} y1={MIDDLE} y2={MIDDLE} stroke={tint("history")} />
        <text x={width - RIGHT + 6} y={MIDDLE + 4} fontSize={11} fill={tint("second")}>
          over benchmark
        </text>
      </svg>
    </Box>
  );
}
