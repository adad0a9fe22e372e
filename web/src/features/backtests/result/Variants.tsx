// Does it hold, or was it a knife's edge? The same with one thing changed at a time.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { backtests, type Entry, type Opened, type Running, useBacktestsChange } from "../../../api/backtests";
import type { Schemas } from "../../../api/client";
import { ExcessBar } from "../../../components/ExcessBar";
import { Table } from "../../../components/Table";
import { percent, plain, signed } from "../../../headless/format";
import { RunningLine } from "../RunningLine";
import { better } from "./words";

type Variant = Schemas["VariantOutcome"];

export function Variants({ data, running }: { data: Opened; running: Running | undefined }) {
  const change = useBacktestsChange<Entry>();
  const all = data.variants;
  return (
    <Box component="section" aria-label="Does it hold?" sx={{ mt: 3 }}>
      <Typography variant="h2">Does it hold?</Typography>
      {change.error && (
        <Alert severity="warning" variant="outlined" icon={false}>
          {change.error.message}
        </Alert>
      )}
      {all ? (
        <Rows all={all} />
      ) : running || change.isSuccess ? (
        <RunningLine id={data.id} running={running} />
      ) : (
        <Typography>
          A good result that falls with any small change was found by looking, not by thinking.{" "}
          <Button
            className="not-on-paper"
            onClick={() => change.mutate(() => backtests.vary(data.id))}
            disabled={change.isPending}
          >
            Try it with one thing changed at a time
          </Button>
        </Typography>
      )}
    </Box>
  );
}

function Rows({ all }: { all: Variant[] }) {
  const [as, ...others] = all;
  const most = Math.max(0.01, ...all.map((v) => Math.abs(v.excess)));
  const held = others.filter((v) => v.excess > 0).length;
  return (
    <>
      <Typography>
        {as && as.excess > 0
          ? `Of ${others.length} small changes ${held} stay ahead of the benchmark: ${held === others.length ? "it holds" : held > 0.7 * others.length ? "it mostly holds" : "it was a knife’s edge"}.`
          : `It is behind its benchmark as it is; of ${others.length} small changes ${held} are ahead.`}
      </Typography>
      <Table
        label="With one thing changed"
        left={[0, 3]}
        head={["Changed", "A year", "Over its benchmark", "Behind, ahead", "Better than random", "Worst fall", "Held"]}
        rows={all.map((v) => ({
          key: v.change,
          cells: [
            v.group === "as it is" ? <b key="c">as it is</b> : v.change,
            signed(v.annualised_return),
            <b key="e" className={v.excess < 0 ? "clay" : "teal"}>
              {signed(v.excess)}
            </b>,
            <ExcessBar key="b" x={v.excess} most={most} />,
            better(v.percentile),
            percent(v.max_drawdown),
            plain(v.average_held, 1),
          ],
        }))}
      />
    </>
  );
}
