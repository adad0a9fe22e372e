// What happened since one last looked, what of it matters, what comes next.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { parseAsString, useQueryState } from "nuqs";
import { lazy, type ReactNode, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Schemas } from "../../api/client";
import { useLayout, useOutbox, useSaveLayout, useSee, useSeenAll, useToday, useVisit } from "../../api/following";
import { Failed, LoadingPage } from "../../components/States";
import { useActions } from "../../headless/actions";
import { STEP } from "../../headless/address";
import { useAddress, useAsOf } from "../../headless/asOf";
import { day, moment, plain } from "../../headless/format";
import { useMarks } from "../../headless/marks";
import { useWidth } from "../../headless/useWidth";
import { tint } from "../../theme/theme";
import { InsiderChoice } from "./InsiderChoice";
import {
  alertItems,
  comingItems,
  insiderItems,
  judgedItems,
  lowItems,
  moverItems,
  screenItems,
  underItems,
} from "./items";
import type { Item } from "./Line";
import { MarketGauge } from "./MarketGauge";
import { Section } from "./Section";
import { SinceButton } from "./SinceButton";
import { useActing } from "./useActing";

const Arrange = lazy(async () => ({ default: (await import("./Arrange")).Arrange }));

type Answer = Schemas["TodayAnswer"];
type Layout = Schemas["TodayLayout"];

const WIDE = 1100;
const MIDDLE = 720;

export function TodayPlace() {
  const [asOf] = useAsOf();
  const [since] = useQueryState("since", SINCE);
  const visit = useVisit();
  const layout = useLayout().data;
  const marked = useMarks((s) => s.marked);
  const request = useMemo(
    () => ({
      as_of: asOf ?? null,
      since: since ?? null,
      marked: marked.map((m) => m.symbol),
      moves: null,
      insiders: layout?.insiders ?? { roles: [], countries: [], least: null },
    }),
    [asOf, since, marked, layout],
  );
  const today = useToday(request, visit.data !== undefined && layout !== undefined);
  const failed = today.error ?? visit.error;
  if (failed) return <Failed error={failed} retry={() => void today.refetch()} />;
  if (!today.data || !layout) return <LoadingPage />;
  return <Page answer={today.data} layout={layout} asOf={asOf} />;
}

const SINCE = parseAsString.withOptions(STEP);

function Page({ answer, layout, asOf }: { answer: Answer; layout: Layout; asOf: string | undefined }) {
  const sections = useSections(answer, layout, asOf);
  const [arranging, setArranging] = useState(false);
  const save = useSaveLayout();
  const see = useSee().mutate;
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  // What alerts said is seen once the page is.
  useEffect(() => {
    if (answer.alerts.length > 0) see();
  }, [answer.alerts.length, see]);
  useActions([
    { label: "Arrange Today", run: () => setArranging(true) },
    { label: "Print Today", run: () => window.print() },
  ]);
  const columns = width === 0 || width >= WIDE ? 3 : width >= MIDDLE ? 2 : 1;
  return (
    <Box ref={box} sx={{ px: 2.75, pt: 0.5, pb: 4 }}>
      <Head answer={answer} asOf={asOf} arrange={() => setArranging(true)} />
      <Waiting />
      {answer.quiet && <Quiet answer={answer} />}
      <Box sx={{ display: "grid", gridTemplateColumns: GRIDS[columns], columnGap: 3.75, mt: 1.5 }}>
        {partition(sections, columns).map((column, i) => (
          <Box key={i} sx={{ minWidth: 0 }}>
            {column.map((s) => s.element)}
          </Box>
        ))}
      </Box>
      <Suspense>
        {arranging && <Arrange layout={layout} save={(to) => save.mutate(to)} close={() => setArranging(false)} />}
      </Suspense>
    </Box>
  );
}

const GRIDS: Record<number, string> = {
  1: "minmax(0, 1fr)",
  2: "minmax(0, 1fr) minmax(0, 1fr)",
  3: "minmax(0, 1.25fr) minmax(0, 1.25fr) minmax(0, 1fr)",
};

interface Placed {
  name: string;
  /** About how many lines high. */
  height: number;
  element: ReactNode;
}

/** In columns one after the other, about as high as each other. */
function partition(sections: Placed[], columns: number): Placed[][] {
  const whole = sections.reduce((sum, s) => sum + s.height, 0);
  const out: Placed[][] = Array.from({ length: columns }, () => []);
  let before = 0;
  for (const s of sections) {
    const at = Math.min(Math.floor(((before + s.height / 2) / whole) * columns), columns - 1);
    out[at]?.push(s);
    before += s.height;
  }
  return out;
}

const LINES_SHOWN = 6;
const HEAD = 1.5;

function useSections(answer: Answer, layout: Layout, asOf: string | undefined): Placed[] {
  const to = useAddress();
  const items = useMemo(() => itemsOf(answer, to), [answer, to]);
  const byKey = useMemo(
    () =>
      new Map(
        Object.values(items)
          .flat()
          .map((i) => [i.line.key, i]),
      ),
    [items],
  );
  const acting = useActing(byKey);
  const told = (name: string) => items[name] ?? [];
  const nobody = answer.followed === 0 ? FOLLOW_NOBODY : null;
  const all: Record<string, ReactNode> = {
    under: (
      <Section
        title="Under the price you would pay"
        count={count(told("under"))}
        items={told("under")}
        acting={acting}
        none={nobody ?? `None of the ${answer.followed} companies you follow.`}
      />
    ),
    alerts: (
      <Section title="Alerts" count={count(told("alerts"))} items={told("alerts")} acting={acting} none="None." />
    ),
    insiders: (
      <Section
        title="Insiders bought"
        count={insidersInWords(answer)}
        items={told("insiders")}
        acting={acting}
        none="No purchase on the open market was filed."
        before={<InsiderChoice layout={layout} countries={answer.insiders.countries} base={answer.base} />}
        after={
          <Link component={RouterLink} to={to(`/today/trades?since=${answer.since}`)} sx={{ fontWeight: 600 }}>
            All {plain(answer.insiders.trades, 0)} trades, with grants and sales
          </Link>
        }
      />
    ),
    lows: (
      <Section
        title="At a yearly low, and sound"
        count={`${answer.lows.count} of ${answer.lows.all} lows`}
        items={told("lows")}
        acting={acting}
        none="No sound company is at its low of the year."
      />
    ),
    screens: (
      <Section
        title="Your screens"
        count={answer.screens.length > 0 && `${told("screens").length} of ${answer.screens.length} changed`}
        items={told("screens")}
        acting={acting}
        none={answer.screens.length > 0 ? "Nobody entered or left them." : "You have none yet: save one under Screens."}
      />
    ),
    movers: (
      <Section
        title="Moved most, and why"
        count={`over a ${answer.movers.over}`}
        items={told("movers")}
        acting={acting}
        none="Nothing moved."
      />
    ),
    verdicts: (
      <Section
        title="New flags, changed verdicts"
        count={count(told("verdicts"))}
        items={told("verdicts")}
        acting={acting}
        none={nobody ?? "None of the companies you follow."}
      />
    ),
    coming: (
      <Section
        title="Coming up"
        count="next 14 days"
        items={told("coming")}
        acting={acting}
        none={nobody ?? "Nothing is due for the companies you follow."}
      />
    ),
    market: <MarketGauge asOf={asOf} />,
  };
  return (
    layout.order
      // Alerts that say nothing need no room.
      .filter((name) => !layout.hidden.includes(name) && (name !== "alerts" || told(name).length > 0))
      .map((name) => ({
        name,
        height: name === "market" ? 6 : HEAD + Math.min(Math.max(told(name).length, 0.5), LINES_SHOWN),
        element: <Box key={name}>{all[name]}</Box>,
      }))
  );
}

const FOLLOW_NOBODY = "You follow nobody yet: put companies on a list with l, or paste them under Lists.";

const count = (items: Item[]): ReactNode => items.filter((i) => !i.line.away).length || "";

function insidersInWords({ insiders }: Answer): string {
  const clusters = insiders.clusters > 0 ? `, ${insiders.clusters} in clusters` : "";
  return insiders.count === 0 ? "" : `${insiders.count} ${insiders.count === 1 ? "company" : "companies"}${clusters}`;
}

const itemsOf = (answer: Answer, to: (path: string) => string): Record<string, Item[]> => ({
  under: underItems(answer, to),
  alerts: alertItems(answer, to),
  insiders: insiderItems(answer, to),
  lows: lowItems(answer, to),
  screens: screenItems(answer, to),
  movers: moverItems(answer, to),
  verdicts: judgedItems(answer, to),
  coming: comingItems(answer, to),
});

const WEEKDAYS = ["Sunday", "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday"];

/** Tuesday 30 June. */
function longDay(iso: string): string {
  const date = new Date(`${iso}T00:00:00Z`);
  const month = date.toLocaleDateString("en-GB", { month: "long", timeZone: "UTC" });
  return `${WEEKDAYS[date.getUTCDay()]} ${date.getUTCDate()} ${month}`;
}

function Head({ answer, asOf, arrange }: { answer: Answer; asOf: string | undefined; arrange: () => void }) {
  const seen = useSeenAll();
  const when = answer.ended_at ? `since you last looked, ${moment(answer.ended_at)}` : `since ${day(answer.since)}`;
  return (
    <Box sx={{ display: "flex", alignItems: "baseline", columnGap: 2, flexWrap: "wrap", minHeight: 40 }}>
      <Typography variant="h1" sx={{ whiteSpace: "nowrap" }}>
        {longDay(answer.as_of)}
      </Typography>
      <Typography variant="sentence" color="textSecondary" sx={{ flex: 1, minWidth: 260 }}>
        {when}: {answer.sentence}.
      </Typography>
      <Box className="not-on-paper" sx={{ display: "flex", mr: -0.6 }}>
        <SinceButton since={answer.since} asOf={answer.as_of} />
        <Button onClick={arrange}>Arrange</Button>
        <Button onClick={() => window.print()}>Print</Button>
        {!asOf && (
          <Button onClick={() => seen.mutate()} disabled={seen.isPending || answer.since === answer.as_of}>
            Seen all of it
          </Button>
        )}
      </Box>
    </Box>
  );
}

/** Nothing new: said, with the week offered. */
function Quiet({ answer }: { answer: Answer }) {
  const [, setSince] = useQueryState("since", SINCE);
  const week = new Date(`${answer.as_of}T00:00:00Z`);
  week.setUTCDate(week.getUTCDate() - 7);
  const ago = week.toISOString().slice(0, 10);
  return (
    <Box sx={{ py: 1.5, borderTop: `1px solid ${tint("hairline")}`, borderBottom: `1px solid ${tint("hairline")}` }}>
      <Typography variant="sentence">
        Nothing new since {day(answer.since)}.{" "}
        {answer.since > ago && (
          <Link component="button" onClick={() => void setSince(ago)} sx={{ font: "inherit", fontWeight: 600 }}>
            Show the week
          </Link>
        )}
      </Typography>
    </Box>
  );
}

/** Messages that could not be sent. */
function Waiting() {
  const outbox = useOutbox().data;
  const to = useAddress();
  if (!outbox || outbox.failing === 0) return null;
  return (
    <Typography variant="body2" sx={{ color: tint("clay"), py: 0.5 }}>
      {outbox.failing === 1 ? "A message waits" : `${outbox.failing} messages wait`}: {outbox.problem}.{" "}
      <Link component={RouterLink} to={to("/today/messages")} sx={{ fontWeight: 600 }}>
        Look
      </Link>
    </Typography>
  );
}
