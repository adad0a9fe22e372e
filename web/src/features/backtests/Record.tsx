// How good have the values been? One row a band of price to value: how many met their value, with how sure that is, and what they
// brought against the others.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { backtests, useBacktestsChange, useRunning, useValuesRecord } from "../../api/backtests";
import type { Schemas } from "../../api/client";
import { Answered } from "../../components/Answered";
import { Table } from "../../components/Table";
import { among, WordChoice } from "../../components/WordChoice";
import { count, day, percent, plain, signed } from "../../headless/format";
import { tint } from "../../theme/theme";

type Cell = Schemas["CalibrationCell"];
type Calibration = Schemas["Calibration"];

const YEARS = [1, 2, 3, 5];
const GOOD = ["of all", "of the good ones", "of those not good enough"] as const;
type Good = (typeof GOOD)[number];
/** Fewer companies are drawn hollow. */
const FEW = 20;
const MONTH = 30.44;

export function Record() {
  return (
    <Box component="section" aria-label="How good have the values been?">
      <Typography variant="h2">How good have the values been?</Typography>
      <Answered answer={useValuesRecord()} rows={6}>
        {(found) => (
          <>
            {found.sentence && <Typography variant="sentence">{found.sentence}</Typography>}
            <Working current={found.is_current} known={found.record != null} />
            {found.record && <Shown record={found.record} />}
            {found.analysts && (
              <Typography variant="body2" sx={{ mt: 1 }}>
                {found.analysts}
              </Typography>
            )}
          </>
        )}
      </Answered>
    </Box>
  );
}

/** What is being worked out, or a way to have it worked out. */
function Working({ current, known }: { current: boolean; known: boolean }) {
  const running = useRunning().find((r) => r.id === "calibration");
  const change = useBacktestsChange<void>();
  if (running) {
    return (
      <Typography role="status" variant="body2" color="textSecondary">
        Being worked out: {percent(running.share)}, {running.doing}{" "}
        <Button onClick={() => change.mutate(backtests.giveUpRecord)}>Cancel</Button>
      </Typography>
    );
  }
  if (current && known) return null;
  return (
    <Typography component="div">
      {known
        ? "The data have gone on since. "
        : "Each valued company of each past quarter is followed: did its price meet the value that it was given then? "}
      <Button onClick={() => change.mutate(backtests.askRecord)} disabled={change.isPending}>
        {known ? "Work it out again" : "Work it out"}
      </Button>
      {!known && <span className="second small">up to half a minute for ten thousand companies, then kept</span>}
    </Typography>
  );
}

function Shown({ record }: { record: Calibration }) {
  const [years, setYears] = useState(3);
  const [good, setGood] = useState<Good>("of all");
  const wanted = good === "of all" ? null : good === "of the good ones";
  const cells = record.cells.filter((c) => c.years === years && (c.good ?? null) === wanted);
  return (
    <>
      <Typography component="div" sx={{ mt: 1 }}>
        What became within{" "}
        <WordChoice
          means="Within how many years"
          word={years === 1 ? "one year" : `${years} years`}
          items={among(YEARS, years, (y) => (y === 1 ? "one year" : `${y} years`), setYears)}
        />{" "}
        <WordChoice means="Of which companies" word={good} items={among(GOOD, good, (g) => g, setGood)} />, by price to
        value:
      </Typography>
      <Table
        label="What became of past values"
        left={[0, 2, 5]}
        head={[
          "Price was",
          "Met its value",
          "90 % interval",
          "Half met it after",
          "Against all others",
          "90 % interval",
          "Quarters",
          "Companies",
        ]}
        rows={cells.map((c) => ({
          key: String(c.from),
          quiet: c.companies < FEW,
          cells: [
            band(c),
            c.met == null ? "–" : percent(c.met),
            <Interval key="i" c={c} />,
            c.median_days == null ? (c.episodes > 0 ? "not yet" : "–") : monthsOf(c.median_days),
            c.median_excess == null ? "–" : signed(c.median_excess),
            <Excess key="e" x={c.median_excess} few={c.companies < FEW} />,
            count(c.episodes),
            count(c.companies),
          ],
        }))}
      />
      <Typography variant="body2" color="textSecondary">
        {count(record.dates)} quarters&rsquo; ends from {day(record.first)}, followed to {day(record.followed_to)}; good
        is a quality of {plain(record.least_quality, 0)} or more. Under its value the price has to rise to it, over it
        to fall to it. The line is where the share lies with 90 % confidence, resampling whole companies: the quarters
        of one company overlap and are not independent. Hollow: fewer than {FEW} companies.
      </Typography>
      <Chances record={record} />
    </>
  );
}

function monthsOf(days: number): string {
  const months = Math.max(1, Math.round(days / MONTH));
  return months === 1 ? "1 month" : `${months} months`;
}

const band = (c: Cell): string =>
  c.to == null
    ? `over ${plain(c.from, 2)} of its value`
    : c.from === 0
      ? `under ${plain(c.to, 2)} of its value`
      : `${plain(c.from, 2)} to ${plain(c.to, 2)}`;

const WIDE = 160;

/** The share with the line on which it lies, from none to all. */
function Interval({ c }: { c: Cell }) {
  if (c.met == null) return null;
  const x = (share: number) => 4 + share * (WIDE - 8);
  return (
    <Dot
      at={x(c.met)}
      line={c.met_interval ? [x(c.met_interval.low), x(c.met_interval.high)] : null}
      few={c.companies < FEW}
      ground={null}
    />
  );
}

const MOST = 0.5;

/** What was brought against the others, from half less to half more. */
function Excess({ x, few }: { x: number | null | undefined; few: boolean }) {
  if (x == null) return null;
  const at = WIDE / 2 + (Math.max(-MOST, Math.min(MOST, x)) / MOST) * (WIDE / 2 - 6);
  return <Dot at={at} line={null} few={few} ground={WIDE / 2} />;
}

interface DotProps {
  at: number;
  line: [number, number] | null;
  few: boolean;
  /** Where nothing is. */
  ground: number | null;
}

function Dot({ at, line, few, ground }: DotProps) {
  return (
    <svg width={WIDE} height={14} aria-hidden style={{ display: "block" }}>
      <line x1={4} x2={WIDE - 4} y1={7} y2={7} stroke={tint("hairline")} />
      {ground !== null && <line x1={ground} x2={ground} y1={1} y2={13} stroke={tint("history")} />}
      {line && <line x1={line[0]} x2={line[1]} y1={7} y2={7} stroke={tint("teal")} strokeWidth={3} opacity={0.5} />}
      <circle cx={at} cy={7} r={4} fill={tint(few ? "panel" : "teal")} stroke={tint("teal")} strokeWidth={1.5} />
    </svg>
  );
}

/** Of those that were given a chance of being under value, how many brought more than the middle. */
function Chances({ record }: { record: Calibration }) {
  const cells = record.chances.filter((c) => c.episodes > 0);
  if (cells.length === 0) return null;
  return (
    <Box sx={{ mt: 2 }}>
      <Typography variant="h3">The chance of being under value</Typography>
      <Table
        label="The chance of being under value, and what came of it"
        left={[0, 2]}
        head={[
          "Given a chance of",
          "Brought more than the middle in three years",
          "90 % interval",
          "Quarters",
          "Companies",
        ]}
        rows={cells.map((c) => {
          const x = (share: number) => 4 + share * (WIDE - 8);
          const line: [number, number] | null = c.better_interval
            ? [x(c.better_interval.low), x(c.better_interval.high)]
            : null;
          return {
            key: String(c.from),
            quiet: c.companies < FEW,
            cells: [
              `${plain(c.from * 100, 0)} to ${percent(c.to)}`,
              c.better == null ? "–" : percent(c.better),
              c.better == null ? (
                ""
              ) : (
                <Dot key="d" at={x(c.better)} line={line} few={c.companies < FEW} ground={WIDE / 2} />
              ),
              count(c.episodes),
              count(c.companies),
            ],
          };
        })}
      />
      <Typography variant="body2" color="textSecondary">
        Drawn for {count(record.drawn_of)} companies, every so many in order of symbol. If the chances mean anything,
        the share rises from row to row.
      </Typography>
    </Box>
  );
}
