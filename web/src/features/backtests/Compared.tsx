// Two to four backtests side by side: their curves together, their figures and what differs in their settings in columns.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useRef } from "react";
import { Link as RouterLink } from "react-router";
import { type Opened, type Outcome, useBacktest } from "../../api/backtests";
import { apart } from "../../charts/ends";
import { Loading } from "../../components/States";
import { Table } from "../../components/Table";
import { day, percent, plain, signed } from "../../headless/format";
import { better } from "./result/words";
import { useWidth } from "../../headless/useWidth";
import { tint } from "../../theme/theme";
import { logTicks, thinned, WHOLE } from "./result/frame";

type Done = Opened & { outcome: Outcome };

/** Each by its stroke too, not by colour alone. */
const STROKES = [
  { colour: "ink", dash: "" },
  { colour: "teal", dash: "7 3" },
  { colour: "clay", dash: "2 3" },
  { colour: "brass", dash: "9 3 2 3" },
] as const;

export function Compared({ ids }: { ids: string[] }) {
  // Always the same number of hooks: four.
  const answers = [
    useBacktest(ids[0] ?? ""),
    useBacktest(ids[1] ?? ""),
    useBacktest(ids[2] ?? ids[0] ?? ""),
    useBacktest(ids[3] ?? ids[0] ?? ""),
  ];
  const all = answers.slice(0, ids.length).map((a) => a.data);
  const done = all.filter((d): d is Done => d?.outcome != null);
  return (
    <Box component="section" aria-label="Compared" sx={{ mt: 3 }}>
      <Typography variant="h2">Side by side</Typography>
      {done.length < ids.length ? <Loading rows={6} /> : <Both all={done} />}
    </Box>
  );
}

function Both({ all }: { all: Done[] }) {
  return (
    <>
      <Curves all={all} />
      <Table
        label="Compared"
        left={[0]}
        head={["Figure", ...all.map((d, i) => <Named key={d.id} d={d} i={i} />)]}
        rows={rows(all)}
      />
    </>
  );
}

function Named({ d, i }: { d: Done; i: number }) {
  const stroke = STROKES[i] ?? STROKES[0];
  return (
    <Box sx={{ minWidth: 130, whiteSpace: "normal" }}>
      <svg width={34} height={6} aria-hidden style={{ marginRight: 6 }}>
        <line x1={0} x2={34} y1={3} y2={3} stroke={tint(stroke.colour)} strokeWidth={2} strokeDasharray={stroke.dash} />
      </svg>
      <Link component={RouterLink} to={`/backtests/${d.id}`}>
        {d.name}
      </Link>
    </Box>
  );
}

const Setting = ({ says, differs }: { says: string; differs: boolean }) => (
  <Box sx={{ maxWidth: 280, ml: "auto", whiteSpace: "normal", lineHeight: 1.25, fontWeight: differs ? 600 : 400 }}>
    {says}
  </Box>
);

function rows(all: Done[]) {
  const row = (key: string, of: (d: Done) => string) => {
    const cells = all.map(of);
    const differs = cells.some((c) => c !== cells[0]);
    return { key, cells: [key, ...cells.map((c, i) => <Setting key={i} says={c} differs={differs} />)] };
  };
  const figure = (key: string, of: (o: Outcome) => string) => ({ key, cells: [key, ...all.map((d) => of(d.outcome))] });
  const some = (x: number | null | undefined, words: (x: number) => string) => (x == null ? "–" : words(x));
  return [
    row("Screen", (d) => d.screen),
    row("From", (d) => day(d.outcome.first)),
    row("To", (d) => day(d.outcome.last)),
    row("How it buys", (d) => d.says),
    row("Cost, of 10,000", (d) => plain(d.settings.cost_bps ?? 20, 0)),
    figure("A year", (o) => signed(o.annualised_return)),
    figure("Over its benchmark", (o) => signed(o.excess)),
    figure("Better than random", (o) => (o.luck.histogram.length > 0 ? better(o.luck.percentile) : "–")),
    figure("Excess between (90 %)", (o) =>
      o.bootstrap ? `${signed(o.bootstrap.low)} to ${signed(o.bootstrap.high)}` : "–",
    ),
    figure("Volatility", (o) => some(o.annual_volatility, percent)),
    figure("Worst fall", (o) => percent(o.max_drawdown)),
    figure("Sharpe ratio", (o) => some(o.sharpe, (x) => plain(x, 2))),
    figure("Turnover a year", (o) => percent(o.turnover_a_year)),
    figure("Held on average", (o) => plain(o.average_held, 1)),
    figure("Cost paid", (o) => percent(o.cost_paid)),
    figure("Warnings", (o) => plain(o.said.length, 0)),
  ];
}

const TALL = 260;
const FOOT = 18;
const LEFT = 40;
const RIGHT = 150;

function Curves({ all }: { all: Done[] }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const days = (iso: string) => Date.parse(iso);
  const first = Math.min(...all.map((d) => days(d.outcome.first)));
  const last = Math.max(...all.map((d) => days(d.outcome.last)));
  const values = all.flatMap((d) => d.outcome.daily.value).filter((v) => v > 0);
  const [low, high] = [Math.min(...values) * 0.97, Math.max(...values) * 1.03];
  const x = (iso: string) => LEFT + ((days(iso) - first) / Math.max(last - first, 1)) * (width - LEFT - RIGHT);
  const y = (v: number) =>
    6 + ((Math.log(high) - Math.log(Math.max(v, low))) / Math.log(high / low)) * (TALL - FOOT - 8);
  const ends = apart(all.map((d, i) => ({ d, i, at: y(d.outcome.daily.value.at(-1) ?? 1) })));
  return (
    <Box ref={box} sx={{ minWidth: 0 }}>
      <svg
        role="img"
        aria-label={`Curves of ${all.map((d) => d.name).join(", ")}`}
        width={width}
        height={TALL}
        viewBox={`0 0 ${width} ${TALL}`}
        style={WHOLE}
      >
        {logTicks(low, high).map((t) => (
          <g key={t}>
            <line x1={LEFT} x2={width - RIGHT} y1={y(t)} y2={y(t)} stroke={tint("hairline")} strokeDasharray="1 3" />
            <text x={LEFT - 6} y={y(t) + 4} textAnchor="end" fontSize={11} fill={tint("second")}>
              {t}
            </text>
          </g>
        ))}
        {all.map(({ id, outcome }, i) => {
          const stroke = STROKES[i] ?? STROKES[0];
          const { dates, value } = outcome.daily;
          return (
            <polyline
              key={id}
              points={thinned(value)
                .map(({ value: v, i: at }) => `${x(dates[at] ?? "").toFixed(1)},${y(v).toFixed(1)}`)
                .join(" ")}
              fill="none"
              stroke={tint(stroke.colour)}
              strokeWidth={1.75}
              strokeDasharray={stroke.dash}
            />
          );
        })}
        {ends.map(({ d, i, at }) => (
          <text
            key={d.id}
            x={width - RIGHT + 6}
            y={at + 4}
            fontSize={11.5}
            fill={tint((STROKES[i] ?? STROKES[0]).colour)}
          >
            {d.name.length > 18 ? `${d.name.slice(0, 17)}…` : d.name} {plain(d.outcome.daily.value.at(-1) ?? 1, 2)}
          </text>
        ))}
        <text x={LEFT} y={TALL - 3} fontSize={11} fill={tint("second")}>
          {new Date(first).getFullYear()}
        </text>
        <text x={width - RIGHT} y={TALL - 3} textAnchor="end" fontSize={11} fill={tint("second")}>
          {new Date(last).getFullYear()}
        </text>
      </svg>
    </Box>
  );
}
