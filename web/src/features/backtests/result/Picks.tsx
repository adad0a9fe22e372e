// The picks with entry and exit and what became of them; each opens the company as it was known on the day of the decision.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Opened, Outcome } from "../../../api/backtests";
import { Table } from "../../../components/Table";
import { among, WordChoice } from "../../../components/WordChoice";
import { count, day, percent, signed } from "../../../headless/format";

type Pick = Outcome["picks"][number];

const ORDERS = {
  "the best": (a: Pick, b: Pick) => b.return - a.return,
  "the worst": (a: Pick, b: Pick) => a.return - b.return,
  "the newest": (a: Pick, b: Pick) => (a.from < b.from ? 1 : -1),
  "the oldest": (a: Pick, b: Pick) => (a.from < b.from ? -1 : 1),
};
type Order = keyof typeof ORDERS;

const ENDS: Record<Pick["ended_by"], string> = {
  rebalance: "rebalanced",
  first_close: "",
  gain: "sold at its gain",
  at_value: "sold at its value",
  months: "sold after its months",
  delisted: "left the exchange",
  end: "held at the end",
};
const MORE = 12;

export function Picks({ outcome, names }: { outcome: Outcome; names: Opened["names"] }) {
  const [order, setOrder] = useState<Order>("the best");
  const [most, setMost] = useState(MORE);
  if (outcome.picks.length === 0) return null;
  const rows = outcome.picks.toSorted(ORDERS[order]).slice(0, most);
  return (
    <Box component="section" aria-label="Picks" sx={{ mt: 3 }}>
      <Typography variant="h2">
        Picks:{" "}
        <WordChoice
          means="Which picks come first"
          word={order}
          items={among(Object.keys(ORDERS) as Order[], order, (o) => o, setOrder)}
        />{" "}
        of {count(outcome.picks.length)}
      </Typography>
      <Table
        label="Picks"
        left={[0, 1, 7]}
        head={["Symbol", "Company", "Bought", "Until", "Return", "Benchmark", "Over it", "Ended", "Weight at first"]}
        rows={rows.map((p) => ({
          key: `${p.symbol}${p.from}`,
          cells: [
            <Link
              key="s"
              component={RouterLink}
              to={`/companies/${encodeURIComponent(p.symbol)}?as_of=${p.decision}`}
              title={`As it was known on ${day(p.decision)}`}
            >
              {p.symbol}
            </Link>,
            <span key="n">{names[p.symbol]?.name ?? ""}</span>,
            day(p.from),
            day(p.to),
            signed(p.return),
            signed(p.benchmark_return),
            <b key="o" className={p.beat ? "teal" : "clay"}>
              {signed(p.return - p.benchmark_return)}
            </b>,
            ENDS[p.ended_by],
            percent(p.start / valueOn(outcome, p.from)),
          ],
        }))}
      />
      <Box className="not-on-paper">
        {most < outcome.picks.length && <Button onClick={() => setMost(most * 4)}>Show more</Button>}
      </Box>
      <Notes outcome={outcome} />
    </Box>
  );
}

function valueOn(outcome: Outcome, date: string): number {
  const i = outcome.daily.dates.indexOf(date);
  return outcome.daily.value[i] ?? 1;
}

/** Picks that had no price on their day. */
function Notes({ outcome }: { outcome: Outcome }) {
  const late = outcome.notes.filter((n) => n.on != null).length;
  const never = outcome.notes.length - late;
  if (outcome.notes.length === 0) return null;
  return (
    <Typography variant="body2" color="textSecondary">
      {late > 0 && `${count(late)} picks had no price on their day and were bought at their first close after it. `}
      {never > 0 && `${count(never)} could not be bought: no price within ten days, or gone from the exchange.`}
    </Typography>
  );
}
