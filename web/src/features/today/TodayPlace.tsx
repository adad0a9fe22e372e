// What happened since one last looked, what of it matters, what comes next.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { parseAsString, useQueryState } from "nuqs";
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Schemas } from "../../api/client";
import { useLayout, useOutbox, useSaveLayout, useSee, useSeenAll, useToday, useVisit } from "../../api/following";
import { Failed, LoadingPage } from "../../components/States";
import { useActions } from "../../headless/actions";
import { STEP } from "../../headless/address";
import { useAddress, useAsOf } from "../../headless/asOf";
import { day, moment } from "../../headless/format";
import { useMarks } from "../../headless/marks";
import { useWidth } from "../../headless/useWidth";
import { tint } from "../../theme/theme";
import { SinceButton } from "./SinceButton";
import { partition, useSections } from "./sections";

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
    if (answer.alerts.count > 0) see();
  }, [answer.alerts.count, see]);
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
