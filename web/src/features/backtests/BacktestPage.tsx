// One backtest: what speaks against it first, then the curve over what chance would have done, then everything it rests on.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link as RouterLink, useParams } from "react-router";
import {
  backtests,
  type Opened,
  type Outcome,
  type Running,
  useBacktest,
  useBacktestsChange,
  useRunning,
} from "../../api/backtests";
import { MenuButton } from "../../components/menu/MenuButton";
import { Failed, LoadingPage } from "../../components/States";
import { useActions } from "../../headless/actions";
import { day, moment, percent, plain, signed } from "../../headless/format";
import { RenameForm } from "./RenameForm";
import { Curve } from "./result/Curve";
import { Held } from "./result/Held";
import { KeyFigures } from "./result/KeyFigures";
import { Luck } from "./result/Luck";
import { Picks } from "./result/Picks";
import { Rolling } from "./result/Rolling";
import { Variants } from "./result/Variants";
import { Voyage } from "./result/Voyage";
import { Years } from "./result/Years";
import { RunningLine } from "./RunningLine";
import { SettingsForm } from "./SettingsForm";

export function BacktestPage() {
  const { id = "" } = useParams();
  const answer = useBacktest(id);
  const running = useRunning().find((r) => r.id === id);
  useEffect(() => {
    document.title = `${answer.data?.name ?? "Backtest"} – Artemon`;
  }, [answer.data?.name]);
  if (answer.error) return <Failed error={answer.error} retry={() => void answer.refetch()} />;
  if (!answer.data) return <LoadingPage />;
  const { data } = answer;
  return (
    <Box sx={{ height: "100%", overflowY: "auto", px: 2.75, pt: 1.5, pb: 6, "@media print": { height: "auto" } }}>
      <Head data={data} />
      {data.state === "waiting" && <RunningLine id={id} running={running} />}
      {data.state !== "waiting" && data.state !== "done" && <Ended data={data} />}
      {data.outcome && <Result data={data} outcome={data.outcome} running={running} />}
    </Box>
  );
}

type Shown = "settings" | "name" | null;

function Head({ data }: { data: Opened }) {
  const [shown, show] = useState<Shown>(null);
  const done = data.outcome != null;
  const file = (format: "csv" | "xlsx" | "json") => void backtests.file(data.id, data.name, format);
  const exports = [
    { label: "Export the trades as CSV", run: () => file("csv") },
    { label: "Export a workbook (XLSX)", run: () => file("xlsx") },
    { label: "Export everything as JSON", run: () => file("json") },
  ];
  useActions([
    { keys: "s", label: "Change the settings of the backtest", run: () => show("settings") },
    ...(done ? exports.map((e, i) => ({ ...e, ...(i === 0 && { keys: "e" }) })) : []),
  ]);
  return (
    <>
      <Typography variant="body2" className="not-on-paper">
        <Link component={RouterLink} to="/backtests">
          Backtests
        </Link>
      </Typography>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1.5, flexWrap: "wrap" }}>
        <Typography variant="h1">{data.name}</Typography>
        <Box sx={{ flex: 1 }} />
        <Box className="not-on-paper">
          <Button onClick={() => show("settings")}>Change settings…</Button>
          <MenuButton label="More" items={[{ label: "Rename…", run: () => show("name") }, ...(done ? exports : [])]} />
        </Box>
      </Box>
      <Typography variant="body2" color="textSecondary">
        {data.says}; cost {plain(data.settings.cost_bps ?? 20, 0)} of 10,000; in {data.settings.base}
      </Typography>
      {shown === "settings" && (
        <Dialog open onClose={() => show(null)} fullWidth maxWidth="sm">
          <SettingsForm
            title={`${data.name} with other settings`}
            place={data.id}
            first={data.settings}
            close={() => show(null)}
          />
        </Dialog>
      )}
      {shown === "name" && <RenameForm id={data.id} name={data.name} close={() => show(null)} />}
    </>
  );
}

function Ended({ data }: { data: Opened }) {
  const again = useBacktestsChange();
  const words = {
    cancelled: "It was cancelled. Nothing is kept of it but its settings.",
    refused: `It could not be run: ${data.message}`,
    failed: data.message,
  };
  return (
    <Alert severity="warning" variant="outlined" icon={false} sx={{ my: 2 }}>
      {words[data.state as keyof typeof words]}{" "}
      <Button onClick={() => again.mutate(() => backtests.ask(data.settings, data.name))} disabled={again.isPending}>
        Run it again
      </Button>
    </Alert>
  );
}

interface ResultProps {
  data: Opened;
  outcome: Outcome;
  running: Running | undefined;
}

const COLUMNS = {
  display: "grid",
  gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 300px" },
  columnGap: 3,
};
const HALVES = { display: "grid", gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "1fr 1fr" }, columnGap: 3 };

function Result({ data, outcome, running }: ResultProps) {
  return (
    <>
      <Beware data={data} outcome={outcome} />
      <Typography variant="sentence" component="p" sx={{ my: 1 }}>
        {inASentence(outcome)} {tries(data)}
      </Typography>
      <Box sx={COLUMNS}>
        <Box sx={{ minWidth: 0 }}>
          <Curve outcome={outcome} />
          <Years outcome={outcome} />
          <Voyage outcome={outcome} names={data.names} />
        </Box>
        <KeyFigures outcome={outcome} />
      </Box>
      <Box sx={HALVES}>
        <Luck outcome={outcome} />
        <Rolling outcome={outcome} />
      </Box>
      <Variants data={data} running={running} />
      <Picks outcome={outcome} names={data.names} />
      <Held id={data.id} outcome={outcome} names={data.names} />
      <Typography variant="caption" color="textDisabled" component="p" sx={{ mt: 3 }}>
        Run {data.ended_at && moment(data.ended_at)} by version {data.version} with the assumptions {data.assumptions},
        on data {data.dataset}. Run again on the same, it comes to the same digits.
      </Typography>
    </>
  );
}

/** What speaks against believing it, before anything else. */
function Beware({ data, outcome }: { data: Opened; outcome: Outcome }) {
  const said = [
    ...outcome.said,
    ...(data.is_current
      ? []
      : ["The data or the assumptions have changed since it was run: run it again to see what it says now."]),
  ];
  if (said.length === 0) return null;
  return (
    <Box
      component="section"
      aria-label="Before you believe it"
      sx={{ my: 1.5, pl: 1.5, borderLeft: "3px solid", borderColor: "error.main" }}
    >
      <Typography variant="h3" component="h2" className="clay">
        Before you believe it
      </Typography>
      {said.map((sentence) => (
        <Typography key={sentence} variant="body1">
          {sentence}
        </Typography>
      ))}
    </Box>
  );
}

function inASentence(o: Outcome): string {
  const than = o.excess < 0 ? "less" : "more";
  const earned = `${signed(o.annualised_return)} a year from ${day(o.first)} to ${day(o.last)}, ${percent(Math.abs(o.excess))} a year ${than} than its benchmark.`;
  const worse = Math.round(o.luck.percentile);
  const luck =
    o.average_held === 0
      ? ""
      : ` Of 100 random portfolios from the same companies ${worse} did worse${worse >= 95 ? ": more than luck often gives" : worse <= 5 ? ": it chose badly" : ": luck gives as much"}.`;
  const b = o.bootstrap;
  const sure = b
    ? ` Had its months come in another order, it would mostly lie between ${signed(b.low)} and ${signed(b.high)} a year over it.`
    : "";
  return earned + luck + (o.average_held === 0 ? "" : sure);
}

function tries(data: Opened): string {
  if (data.tried < 2 || data.best_by_luck == null) return "";
  return `You tried ${data.tried} variants of this screen; the best of ${data.tried} lucky ones would show ${signed(data.best_by_luck)} a year.`;
}
