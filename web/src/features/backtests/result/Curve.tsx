// The curve over the fan of chance: where random portfolios from the same companies would have been, the benchmark in grey, the
// draw-downs hanging from the top, hard times of the benchmark hatched.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { type PointerEvent, useMemo, useRef, useState } from "react";
import type { Outcome } from "../../../api/backtests";
import { apart } from "../../../charts/ends";
import { day, percent, plain, signed } from "../../../headless/format";
import { useWidth } from "../../../headless/useWidth";
import { tint } from "../../../theme/theme";
import { alongDays, deepFalls, falls, LEFT, logTicks, newYears, RIGHT, thinned, WHOLE } from "./frame";

const TALL = 300;
const FOOT = 20;
/** The fringe of draw-downs at the top. */
const FRINGE = 46;
/** A fall of the benchmark from which on times count as hard. */
const HARD = 0.2;

export function Curve({ outcome }: { outcome: Outcome }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  return (
    <Box ref={box} component="section" aria-label="Curve" sx={{ minWidth: 0, mt: 1 }}>
      <Typography variant="h2">The value over what chance would have done</Typography>
      <Drawn outcome={outcome} width={width} />
      <Typography variant="body2" color="textSecondary">
        What 1 became, on a logarithmic axis
        {outcome.luck.histogram.length > 0 &&
          `, over the middle half and nine tenths of ${outcome.luck.draws} random portfolios of the same sizes from the same companies`}
        . Grey is the benchmark, hatched the times in which it fell by a fifth or more; from the top hang the falls
        below the highest value before.
      </Typography>
    </Box>
  );
}

function useScales(outcome: Outcome, width: number) {
  return useMemo(() => {
    const { value, benchmark } = outcome.daily;
    const fan = outcome.luck.fan.flatMap((f) => f.values);
    const all = [...value, ...benchmark, ...fan].filter((v) => v > 0);
    const [low, high] = [Math.min(...all, 1) * 0.97, Math.max(...all, 1) * 1.03];
    const top = FRINGE + 6;
    const y = (v: number) =>
      top + ((Math.log(high) - Math.log(Math.max(v, low))) / Math.log(high / low)) * (TALL - FOOT - top);
    return { x: alongDays(outcome, width), y, ticks: logTicks(low, high) };
  }, [outcome, width]);
}

function Drawn({ outcome, width }: { outcome: Outcome; width: number }) {
  const { x, y, ticks } = useScales(outcome, width);
  const [pointed, point] = useState<number | null>(null);
  const { dates, value, benchmark } = outcome.daily;
  const move = (e: PointerEvent<SVGSVGElement>) => {
    const left = e.clientX - e.currentTarget.getBoundingClientRect().left;
    const share = (left - LEFT) / Math.max(width - LEFT - RIGHT, 1);
    point(share < 0 || share > 1 ? null : Math.round(share * (dates.length - 1)));
  };
  return (
    <svg
      role="img"
      aria-label={`Value ${plain(value.at(-1) ?? 1, 2)} at the end, benchmark ${plain(benchmark.at(-1) ?? 1, 2)}`}
      width={width}
      height={TALL}
      viewBox={`0 0 ${width} ${TALL}`}
      style={WHOLE}
      onPointerMove={move}
      onPointerLeave={() => point(null)}
    >
      <Hard outcome={outcome} x={x} />
      <Fan outcome={outcome} x={x} y={y} />
      {ticks.map((t) => (
        <g key={t}>
          <line
            x1={LEFT}
            x2={width - RIGHT}
            y1={y(t)}
            y2={y(t)}
            stroke={tint("hairline")}
            strokeDasharray={t === 1 ? "" : "1 3"}
          />
          <text x={LEFT - 6} y={y(t) + 4} textAnchor="end" fontSize={11} fill={tint("second")}>
            {t}
          </text>
        </g>
      ))}
      <YearMarks outcome={outcome} width={width} x={x} />
      <Fringe outcome={outcome} x={x} />
      <Line dates={dates} values={benchmark} x={x} y={y} colour="history" wide={1.5} />
      <Line dates={dates} values={value} x={x} y={y} colour="ink" wide={1.75} />
      <Ends outcome={outcome} width={width} y={y} />
      {pointed !== null && <Pointed outcome={outcome} i={pointed} x={x} width={width} />}
    </svg>
  );
}

interface Scales {
  outcome: Outcome;
  x: (iso: string) => number;
  y: (v: number) => number;
}

function Hard({ outcome, x }: Omit<Scales, "y">) {
  const { dates, benchmark } = outcome.daily;
  return (
    <>
      <defs>
        <pattern id="hard" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1="0" y1="0" x2="0" y2="5" stroke={tint("history")} strokeWidth="1" opacity="0.6" />
        </pattern>
      </defs>
      {deepFalls(benchmark, HARD).map(([from, to]) => {
        const [a, b] = [x(dates[from] ?? ""), x(dates[to] ?? "")];
        return (
          <rect
            key={from}
            x={a}
            y={FRINGE + 6}
            width={Math.max(b - a, 1)}
            height={TALL - FOOT - FRINGE - 6}
            fill="url(#hard)"
          />
        );
      })}
    </>
  );
}

/** The bands of random portfolios, which begin together at the first decision. */
function Fan({ outcome, x, y }: Scales) {
  const first = outcome.rebalances[0]?.trade ?? outcome.first;
  const points = [{ date: first, values: [1, 1, 1, 1, 1] }, ...outcome.luck.fan];
  const band = (low: number, high: number) => {
    const of = (q: number) => points.map((p) => `${x(p.date).toFixed(1)},${y(p.values[q] ?? 1).toFixed(1)}`);
    return [...of(high), ...of(low).reverse()].join(" ");
  };
  return (
    <>
      <polygon points={band(0, 4)} fill={tint("tealWash")} opacity={0.55} />
      <polygon points={band(1, 3)} fill={tint("tealWash")} />
    </>
  );
}

interface LineProps {
  dates: string[];
  values: number[];
  x: (iso: string) => number;
  y: (v: number) => number;
  colour: "ink" | "history";
  wide: number;
}

function Line({ dates, values, x, y, colour, wide }: LineProps) {
  const points = thinned(values).map(({ value, i }) => `${x(dates[i] ?? "").toFixed(1)},${y(value).toFixed(1)}`);
  return (
    <polyline points={points.join(" ")} fill="none" stroke={tint(colour)} strokeWidth={wide} strokeLinejoin="round" />
  );
}

function Fringe({ outcome, x }: Omit<Scales, "y">) {
  const { dates, value } = outcome.daily;
  const deepest = Math.max(-outcome.max_drawdown, 0.01);
  const at = (fall: number) => (-fall / deepest) * (FRINGE - 12);
  const points = thinned(falls(value)).map(
    ({ value: fall, i }) => `${x(dates[i] ?? "").toFixed(1)},${at(fall).toFixed(1)}`,
  );
  const [from, to] = [x(outcome.first), x(outcome.last)];
  return (
    <g>
      <polygon points={`${from},0 ${points.join(" ")} ${to},0`} fill={tint("clay")} opacity={0.35} />
      <text x={LEFT - 6} y={10} textAnchor="end" fontSize={11} fill={tint("clay")}>
        falls
      </text>
      {outcome.drawdown_to && (
        <text
          x={Math.min(x(outcome.drawdown_to), to - 40)}
          y={FRINGE - 2}
          textAnchor="middle"
          fontSize={11}
          fill={tint("clay")}
        >
          {percent(outcome.max_drawdown)}
        </text>
      )}
    </g>
  );
}

function YearMarks({ outcome, width, x }: { outcome: Outcome; width: number; x: (iso: string) => number }) {
  const years = newYears(outcome);
  const each = (width - LEFT - RIGHT) / Math.max(years.length, 1);
  const step = Math.ceil(38 / Math.max(each, 1));
  return (
    <>
      {years.map((iso, i) => (
        <g key={iso}>
          <line x1={x(iso)} x2={x(iso)} y1={TALL - FOOT} y2={TALL - FOOT + 4} stroke={tint("history")} />
          {i % step === 0 && (
            <text x={x(iso)} y={TALL - 4} textAnchor="middle" fontSize={11} fill={tint("second")}>
              {iso.slice(0, 4)}
            </text>
          )}
        </g>
      ))}
    </>
  );
}

function Ends({ outcome, width, y }: { outcome: Outcome; width: number; y: (v: number) => number }) {
  const ends = apart(
    [
      { label: "this screen", v: outcome.daily.value.at(-1) ?? 1, tone: "ink" as const },
      { label: "benchmark", v: outcome.daily.benchmark.at(-1) ?? 1, tone: "second" as const },
    ].map((e) => ({ ...e, at: y(e.v) })),
  );
  return (
    <>
      {ends.map((e) => (
        <text key={e.label} x={width - RIGHT + 6} y={e.at + 4} fontSize={11.5} fill={tint(e.tone)}>
          {e.label} {plain(e.v, 2)}
        </text>
      ))}
    </>
  );
}

/** The day under the pointer. */
function Pointed({ outcome, i, x, width }: { outcome: Outcome; i: number; x: (iso: string) => number; width: number }) {
  const { dates, value, benchmark } = outcome.daily;
  const [date, v, b] = [dates[i] ?? outcome.first, value[i] ?? 1, benchmark[i] ?? 1];
  const left = x(date);
  const flips = left > width / 2;
  return (
    <g>
      <line x1={left} x2={left} y1={0} y2={TALL - FOOT} stroke={tint("brass")} />
      <text
        x={left + (flips ? -6 : 6)}
        y={FRINGE + 18}
        textAnchor={flips ? "end" : "start"}
        fontSize={12}
        fontWeight={600}
        fill={tint("ink")}
        style={{ paintOrder: "stroke", stroke: tint("paper"), strokeWidth: 4 }}
      >
        {day(date)}: {plain(v, 2)}, benchmark {plain(b, 2)}, {signed(v / b - 1)} over it
      </text>
    </g>
  );
}
