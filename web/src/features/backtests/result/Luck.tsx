// Luck: what random portfolios came to, with the result on it and the interval of the bootstrap under it.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useRef } from "react";
import type { Outcome } from "../../../api/backtests";
import { plain, signed } from "../../../headless/format";
import { useWidth } from "../../../headless/useWidth";
import { tint } from "../../../theme/theme";
import { better } from "./words";
import { WHOLE } from "./frame";

const TALL = 150;
const GROUND = 108;
const EDGE = 8;

export function Luck({ outcome }: { outcome: Outcome }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const { luck, bootstrap } = outcome;
  return (
    <Box ref={box} component="section" aria-label="Luck" sx={{ minWidth: 0, mt: 3 }}>
      <Typography variant="h2">Could it be luck?</Typography>
      {luck.histogram.length === 0 ? (
        <Typography color="textSecondary">
          There is nothing to compare: random portfolios all came to the same.
        </Typography>
      ) : (
        <>
          <Drawn outcome={outcome} width={width} />
          <Typography variant="body2" color="textSecondary">
            {luck.draws} portfolios of the same sizes, drawn at random from the same companies on the same days and
            charged alike: {plain(luck.percentile, 1)} of 100 did worse.
            {bootstrap &&
              ` The line under them is where ${bootstrap.resamples} shuffles of its ${bootstrap.months} months in blocks mostly end, from ${signed(bootstrap.low)} to ${signed(bootstrap.high)} a year over the benchmark${bootstrap.low > 0 ? "." : ": nothing is certain."}`}
          </Typography>
        </>
      )}
    </Box>
  );
}

function Drawn({ outcome, width }: { outcome: Outcome; width: number }) {
  const { luck, bootstrap, excess } = outcome;
  const bins = luck.histogram;
  const ends = [
    bins[0]?.low ?? 0,
    bins.at(-1)?.high ?? 0,
    excess,
    0,
    ...(bootstrap ? [bootstrap.low, bootstrap.high] : []),
  ];
  const [low, high] = [Math.min(...ends), Math.max(...ends)];
  const x = (v: number) => EDGE + ((v - low) / (high - low || 1)) * (width - 2 * EDGE);
  const most = Math.max(...bins.map((b) => b.count), 1);
  const flips = x(excess) > width * 0.7;
  return (
    <svg
      role="img"
      aria-label={`The result is ${signed(excess)} a year over the benchmark; ${plain(luck.percentile, 1)} of 100 random portfolios did worse`}
      width={width}
      height={TALL}
      viewBox={`0 0 ${width} ${TALL}`}
      style={WHOLE}
    >
      {bins.map((b) => {
        const tall = (b.count / most) * (GROUND - 30);
        return (
          <rect
            key={b.low}
            x={x(b.low)}
            y={GROUND - tall}
            width={Math.max(x(b.high) - x(b.low) - 1, 1)}
            height={tall}
            fill={tint("bar")}
            opacity={b.low > excess ? 1 : 0.6}
          />
        );
      })}
      <line x1={EDGE} x2={width - EDGE} y1={GROUND} y2={GROUND} stroke={tint("history")} />
      {bootstrap && (
        <line
          x1={x(bootstrap.low)}
          x2={x(bootstrap.high)}
          y1={GROUND + 7}
          y2={GROUND + 7}
          stroke={tint("brass")}
          strokeWidth={4}
        />
      )}
      <line x1={x(0)} x2={x(0)} y1={GROUND - 4} y2={GROUND + 14} stroke={tint("history")} />
      <text x={x(0)} y={GROUND + 26} textAnchor="middle" fontSize={11} fill={tint("second")}>
        benchmark
      </text>
      <text x={EDGE} y={TALL - 2} fontSize={11} fill={tint("second")}>
        {signed(low)} a year
      </text>
      <text x={width - EDGE} y={TALL - 2} textAnchor="end" fontSize={11} fill={tint("second")}>
        {signed(high)}
      </text>
      <line x1={x(excess)} x2={x(excess)} y1={14} y2={GROUND + 7} stroke={tint("ink")} strokeWidth={2} />
      <text
        x={x(excess) + (flips ? -5 : 5)}
        y={22}
        textAnchor={flips ? "end" : "start"}
        fontSize={12.5}
        fontWeight={600}
        fill={tint("ink")}
      >
        this: {signed(excess)} a year over, better than {better(luck.percentile)}
      </text>
    </svg>
  );
}
