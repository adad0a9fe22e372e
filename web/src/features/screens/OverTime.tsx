// A screen over time: who entered and left since its last run or another day, and why; and the same day in other years.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Schemas, Screen } from "../../api/client";
import { useAbout, useScreenChanges, useScreenYears } from "../../api/queries";
import { DateField, outside } from "../../components/DateField";
import { MenuButton } from "../../components/menu/MenuButton";
import { Failed, Loading } from "../../components/States";
import { Table } from "../../components/Table";
import { useAddress } from "../../headless/asOf";
import { count, day, figureText, percent, plain } from "../../headless/format";
import { tint } from "../../theme/theme";

type Change = Schemas["ChangeAnswer"];

interface Props {
  screen: Screen;
  /** The day it is computed as of. */
  asOf: string;
  /** The session of its last run before, where it is kept and was run. */
  lastRun: string | null;
}

/** Days before the date of the screen that are offered. */
const BEFORE: [string, number][] = [
  ["a week before", 7],
  ["a month before", 30],
  ["a quarter before", 91],
  ["a year before", 365],
];

function daysBefore(iso: string, days: number): string {
  const date = new Date(`${iso}T00:00:00Z`);
  date.setUTCDate(date.getUTCDate() - days);
  return date.toISOString().slice(0, 10);
}

export function OverTime({ screen, asOf, lastRun }: Props) {
  const { first_day: first } = useAbout().data ?? {};
  const [chosen, setChosen] = useState<string | null>(null);
  const [typing, setTyping] = useState(false);
  const [asked, setAsked] = useState(false);
  const [years, setYears] = useState<Screen | null>(null);
  const since = chosen ?? lastRun ?? daysBefore(asOf, 30);
  const wrong = outside(since, first ?? undefined, asOf);
  // Another date costs much where nothing is kept of it: it is asked for when somebody wants to know, not with every edit.
  const shown = asked || lastRun !== null;
  const changes = useScreenChanges(screen, wrong || !shown ? null : since);
  const choose = (to: string) => {
    setChosen(to);
    setAsked(true);
    setTyping(false);
  };
  const items = [
    ...(lastRun ? [{ label: `its last run, ${day(lastRun)}`, run: () => choose(lastRun) }] : []),
    ...BEFORE.map(([label, days]) => ({ label, run: () => choose(daysBefore(asOf, days)) })),
    {
      label: "another day…",
      run: () => {
        setTyping(true);
        setAsked(true);
      },
    },
  ];
  return (
    <Box component="section" aria-label="Over time" sx={{ mt: 2.5 }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
        <Typography variant="h3" component="h2">
          Entered and left
        </Typography>
        <MenuButton means="Since when" label={`since ${day(since)} ▾`} items={items} />
      </Box>
      {typing && (
        <Box sx={{ width: 200, mt: 1 }}>
          <DateField label="Since" value={since} set={setChosen} first={first ?? undefined} last={asOf} />
        </Box>
      )}
      {!shown && <Button onClick={() => setAsked(true)}>Show who</Button>}
      {shown && (changes.error ? <Failed error={changes.error} /> : <Both changes={changes.data} />)}
      {years && <Years key={JSON.stringify(years)} screen={years} />}
      {years !== screen && (
        <Button onClick={() => setYears(screen)}>
          The same day in other years{years && ", by the screen as it is now"}
        </Button>
      )}
    </Box>
  );
}

function Both({ changes }: { changes: Schemas["ChangesAnswer"] | undefined }) {
  if (!changes) return <Loading rows={2} />;
  const { entered, left, stayed } = changes;
  if (entered.length + left.length === 0) {
    return (
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        None entered and none left; {count(stayed)} passed then and pass now.
      </Typography>
    );
  }
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "repeat(auto-fit, minmax(320px, 1fr))", gap: 2, mb: 1 }}>
      <Changed title={`${count(entered.length)} entered`} all={entered} outside="was not looked at then" />
      <Changed title={`${count(left.length)} left`} all={left} outside="is not looked at any more" />
    </Box>
  );
}

/** Companies shown before one asks for all. */
const FEW = 8;

function Changed({ title, all, outside: out }: { title: string; all: Change[]; outside: string }) {
  const address = useAddress();
  const [whole, setWhole] = useState(false);
  return (
    <div>
      <Typography sx={{ fontWeight: 600 }}>{title}</Typography>
      {(whole ? all : all.slice(0, FEW)).map((c) => (
        <Box key={c.symbol} sx={{ borderTop: `1px solid ${tint("hairline")}`, py: 0.25 }} data-testid="changed">
          <Link
            component={RouterLink}
            to={address(`/companies/${c.symbol}`)}
            sx={{ color: "inherit", fontWeight: 600 }}
          >
            {c.name}
          </Link>{" "}
          <Typography variant="body2" component="span" color="textSecondary">
            {c.outside
              ? out
              : c.turned.map(inWords).join("; ") || "the order of the screen, which shows only the first"}
          </Typography>
        </Box>
      ))}
      {all.length > FEW && !whole && <Button onClick={() => setWhole(true)}>All {all.length}</Button>}
    </div>
  );
}

/** What turned; what was asked of it stands beside the criteria. */
function inWords({ what, unit, then, now }: Schemas["TurnedAnswer"]): string {
  const [was, is] = [then, now].map((f) => figureText(f, unit) ?? f.reason ?? "not known");
  return `${what} ${is}, was ${was}`;
}

function Years({ screen }: { screen: Screen }) {
  const { years, of, error, running, stop } = useScreenYears(screen);
  if (error) return <Failed error={error} />;
  const share = (x: number | null | undefined) => (typeof x === "number" ? percent(x) : "–");
  const lead = ({ year_after: found, all_year_after: all }: Schemas["YearAnswer"]) =>
    typeof found === "number" && typeof all === "number" ? `${plain((found - all) * 100, 1)} points` : "–";
  return (
    <>
      <Typography variant="h3" component="h3" sx={{ mt: 1.5, mb: 0.5 }}>
        The same day in other years{" "}
        <span className="light second">and the median return of the twelve months after it</span>
      </Typography>
      <Table
        label="The same day in other years"
        head={["Day", "Found", "Those found", "All companies", "Lead"]}
        rows={years.map((y) => ({
          key: y.as_of,
          cells: [day(y.as_of), count(y.found), share(y.year_after), share(y.all_year_after), lead(y)],
        }))}
      />
      {running && (
        <Box sx={{ display: "flex", alignItems: "center", gap: 1, mt: 0.5 }} role="status">
          <LinearProgress
            variant="determinate"
            value={(100 * years.length) / of}
            aria-label="Days computed"
            sx={{ width: 160 }}
          />
          <Typography variant="body2" color="textSecondary">
            {years.length} of {of} days
          </Typography>
          <Button onClick={stop}>Stop</Button>
        </Box>
      )}
      <Typography variant="caption" color="textSecondary" component="p" sx={{ mt: 0.5 }}>
        Price and dividends, without costs. Ten days are few: most of it is luck.
      </Typography>
    </>
  );
}
