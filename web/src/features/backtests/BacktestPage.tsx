// One backtest: how it was set, and what came of it.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link as RouterLink, useParams } from "react-router";
import { backtests, type Opened, useBacktest, useBacktestsChange, useRunning } from "../../api/backtests";
import { MenuButton } from "../../components/menu/MenuButton";
import { Failed, LoadingPage } from "../../components/States";
import { useActions } from "../../headless/actions";
import { told } from "../../headless/notice";
import { plain } from "../../headless/format";
import { shareItem } from "../../headless/sharing";
import { RenameForm } from "./RenameForm";
import { Result } from "./result/Result";
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
  const file = (format: "csv" | "xlsx" | "json") => void told(backtests.file(data.id, data.name, format));
  const exports = [
    { label: "Export the trades as CSV", run: () => file("csv") },
    { label: "Export a workbook (XLSX)", run: () => file("xlsx") },
    { label: "Export everything as JSON", run: () => file("json") },
  ];
  const more = [
    { label: "Rename…", run: () => show("name") },
    ...shareItem({ kind: "backtest", id: data.id, name: data.name }),
    ...(done ? exports : []),
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
          <MenuButton label="More" items={more} />
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
