// What came of a backtest: what speaks against it first, then the curve over what chance would have done, then all that it rests on.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Opened, Outcome, Running } from "../../../api/backtests";
import { day, moment, percent, signed } from "../../../headless/format";
import { Curve } from "./Curve";
import { Held } from "./Held";
import { KeyFigures } from "./KeyFigures";
import { Luck } from "./Luck";
import { Picks } from "./Picks";
import { Rolling } from "./Rolling";
import { Variants } from "./Variants";
import { Voyage } from "./Voyage";
import { Years } from "./Years";

interface ResultProps {
  data: Opened;
  outcome: Outcome;
  running?: Running | undefined;
  /** Somebody else's, which is looked at. */
  readOnly?: boolean;
}

const COLUMNS = {
  display: "grid",
  gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 300px" },
  columnGap: 3,
};
const HALVES = { display: "grid", gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "1fr 1fr" }, columnGap: 3 };

export function Result({ data, outcome, running, readOnly = false }: ResultProps) {
  return (
    <>
      <Beware data={data} outcome={outcome} />
      <Typography variant="sentence" component="p" sx={{ my: 1 }}>
        {inASentence(outcome)} {!readOnly && tries(data)}
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
      {!readOnly && <Variants data={data} running={running} />}
      <Picks outcome={outcome} names={data.names} />
      {!readOnly && <Held id={data.id} outcome={outcome} names={data.names} />}
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
