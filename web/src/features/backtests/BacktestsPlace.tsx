// Backtests: what was tried, settings and outcome side by side; some of them compared; a measure by itself.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { parseAsStringLiteral, useQueryState } from "nuqs";
import { lazy, Suspense, useEffect, useState } from "react";
import { Link as RouterLink } from "react-router";
import { backtests, type Entry, type Running, useBacktests, useBacktestsChange, useRunning } from "../../api/backtests";
import type { Schemas } from "../../api/client";
import { Fold } from "../../components/Fold";
import { Sparkline } from "../../components/Sparkline";
import { Empty, Failed, LoadingPage } from "../../components/States";
import { Table } from "../../components/Table";
import { ViewTabs } from "../../components/ViewTabs";
import { useActions } from "../../headless/actions";
import { STEP, texts } from "../../headless/address";
import { count, day, moment, percent, plain, signed } from "../../headless/format";
import { useUndo } from "../../headless/undo";
import { tint } from "../../theme/theme";
import { NewBacktest } from "./NewBacktest";
import { better } from "./result/words";

const Compared = lazy(async () => ({ default: (await import("./Compared")).Compared }));
const ValuesRecord = lazy(async () => ({ default: (await import("./Record")).Record }));
const MeasureCheck = lazy(async () => ({ default: (await import("./MeasureCheck")).MeasureCheck }));

const VIEWS = ["Screens", "A measure", "The values"] as const;
const TABS = VIEWS.map((v) => ({ id: v, label: v }));
/** The most that are compared. */
const MOST = 4;

export function BacktestsPlace() {
  const answer = useBacktests();
  const running = useRunning();
  const [view, setView] = useQueryState("view", parseAsStringLiteral(VIEWS).withDefault("Screens").withOptions(STEP));
  const [chosen, choose] = useQueryState("compare", texts.withDefault([]).withOptions(STEP));
  const [asking, ask] = useState(false);
  const remove = useRemoving();
  useEffect(() => {
    document.title = "Backtests – Artemon";
  }, []);
  useActions([
    { keys: "n", label: "New backtest", run: () => ask(true) },
    ...VIEWS.map((v) => ({ label: `Backtests: ${v}`, run: () => void setView(v) })),
  ]);
  if (answer.error) return <Failed error={answer.error} retry={() => void answer.refetch()} />;
  if (!answer.data) return <LoadingPage />;
  const { data } = answer;
  return (
    <Box sx={{ height: "100%", overflowY: "auto", px: 2.75, pt: 1.5, pb: 5, "@media print": { height: "auto" } }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1.5 }}>
        <Typography variant="h1">Backtests</Typography>
        <Box sx={{ flex: 1 }} />
        <Button className="not-on-paper" variant="contained" onClick={() => ask(true)}>
          New backtest…
        </Button>
      </Box>
      <Typography variant="sentence" component="p" sx={{ mt: 0.5, mb: 1 }}>
        Would this way of choosing have worked, and could it be luck? Everything as it was known then, costs paid, those
        that died counted.
      </Typography>
      <ViewTabs label="Parts of the place" views={TABS} view={view} choose={(v) => void setView(v)} />
      {view !== "Screens" ? (
        <Suspense>{view === "A measure" ? <MeasureCheck /> : <ValuesRecord />}</Suspense>
      ) : (
        <>
          {data.backtests.length === 0 ? (
            <Empty title="Nothing was tried yet">
              A backtest runs a screen as of past dates, buys what it found on the session after, and follows it to the
              end. <Button onClick={() => ask(true)}>Try a screen</Button> Anywhere on a screen, the key w does the
              same.
            </Empty>
          ) : (
            <List
              list={data}
              running={running}
              chosen={chosen}
              choose={(ids) => void choose(ids.length > 0 ? ids : null)}
              remove={remove}
            />
          )}
          {chosen.length > 1 && (
            <Suspense>
              <Compared ids={chosen.slice(0, MOST)} />
            </Suspense>
          )}
          {data.deleted.length > 0 && <Deleted rows={data.deleted} />}
        </>
      )}
      {asking && <NewBacktest close={() => ask(false)} />}
    </Box>
  );
}

interface ListProps {
  list: Schemas["BacktestList"];
  running: Running[];
  chosen: string[];
  choose: (ids: string[]) => void;
  remove: (b: Entry) => void;
}

function List({ list, running, chosen, choose, remove }: ListProps) {
  const tried = new Map(list.tried.map((t) => [t.screen, t.variants]));
  const toggle = (id: string) =>
    choose(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id].slice(-MOST));
  return (
    <>
      <Table
        label="Backtests"
        left={[0, 1, 2, 3]}
        head={[
          "Compare",
          "Backtest",
          "How it buys",
          "From, to",
          "A year",
          "Over its benchmark",
          "Better than random",
          "Worst fall",
          "Held",
          "Tried",
          "Curve",
          "Action",
        ]}
        rows={list.backtests.map((b) => ({
          key: b.id,
          cells: [
            <Checkbox
              key="compare"
              sx={{ p: 0 }}
              checked={chosen.includes(b.id)}
              disabled={!b.summary}
              onChange={() => toggle(b.id)}
              slotProps={{ input: { "aria-label": `Compare ${b.name}` } }}
            />,
            <Named key="name" b={b} />,
            <How key="how" says={b.says} />,
            b.summary
              ? `${day(b.summary.first)} – ${day(b.summary.last)}`
              : `${day(b.settings.from)} – ${day(b.settings.to)}`,
            ...figures(b, running),
            b.summary ? count(tried.get(b.screen) ?? 1) : "",
            b.summary ? (
              <Sparkline
                key="curve"
                values={b.summary.curve.map(Math.log)}
                width={90}
                height={24}
                label={`Value of ${b.name}`}
              />
            ) : (
              ""
            ),
            <Button
              key="remove"
              onClick={() => remove(b)}
              sx={{ minWidth: 0, color: tint("second") }}
              aria-label={`Delete ${b.name}`}
            >
              Delete
            </Button>,
          ],
        }))}
      />
      <Typography variant="body2" color="textSecondary">
        Better than random: of 100 portfolios of the same sizes, drawn at random from the same companies on the same
        days, so many did worse. Tried: how many settings of the same screen were run; the more, the less a good one
        means.
        {chosen.length < 2 && list.backtests.length > 1 && " Choose two to four to compare their curves."}
      </Typography>
    </>
  );
}

function Named({ b }: { b: Entry }) {
  return (
    <Box sx={{ minWidth: 150, maxWidth: 240, whiteSpace: "normal", lineHeight: 1.25 }}>
      <Link component={RouterLink} to={`/backtests/${b.id}`} className="serif strong">
        {b.name}
      </Link>
      <div className="small faint">
        {moment(b.asked_at)}
        {b.summary && b.summary.warnings > 0 && (
          <span className="clay"> · {b.summary.warnings === 1 ? "1 warning" : `${b.summary.warnings} warnings`}</span>
        )}
      </div>
    </Box>
  );
}

const How = ({ says }: { says: string }) => (
  <Box sx={{ minWidth: 180, maxWidth: 300, whiteSpace: "normal", lineHeight: 1.25 }} className="small">
    {says}
  </Box>
);

/** The outcome, or what became of it. */
function figures(b: Entry, running: Running[]) {
  const { summary: s } = b;
  if (!s) {
    const now = running.find((r) => r.id === b.id);
    const words: Record<Entry["state"], string> = {
      waiting: now ? `${percent(now.share)}` : "waits",
      done: "",
      refused: "refused",
      cancelled: "cancelled",
      failed: "failed",
    };
    return [
      <span key="state" className="second" title={b.message}>
        {words[b.state]}
      </span>,
      "",
      "",
      "",
      "",
    ];
  }
  return [
    signed(s.annualised_return),
    <b key="excess" className={s.excess < 0 ? "clay" : "teal"}>
      {signed(s.excess)}
    </b>,
    <span key="luck" title="of 100 random portfolios">
      {s.average_held > 0 ? better(s.percentile) : "–"}
    </span>,
    percent(s.max_drawdown),
    plain(s.average_held, 1),
  ];
}

/** Deletes a backtest, which is offered to be undone. */
function useRemoving(): (b: Entry) => void {
  const { mutate } = useBacktestsChange<void>();
  const did = useUndo((s) => s.did);
  return (b) =>
    mutate(async () => {
      await backtests.remove(b.id);
      did({
        what: b.id,
        removed: `${b.name} was deleted`,
        undo: () => mutate(() => backtests.restore(b.id)),
        redo: () => mutate(() => backtests.remove(b.id)),
      });
    });
}

function Deleted({ rows }: { rows: Entry[] }) {
  const change = useBacktestsChange<void>();
  return (
    <Fold label={`Deleted: ${rows.length}`}>
      {rows.map((b) => (
        <Typography key={b.id} variant="body2">
          {b.name}, {b.says}, {moment(b.asked_at)}{" "}
          <Button onClick={() => change.mutate(() => backtests.restore(b.id))}>Restore</Button>
        </Typography>
      ))}
    </Fold>
  );
}
