// Sessions that come in: those of the demo world, or of a server on this machine; the next, a week, up to a day, or one after another.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { useFeed, useNextSessions } from "../../api/queries";
import { MenuButton } from "../../components/menu/MenuButton";
import { day, plain } from "../../headless/format";
import { tint } from "../../theme/theme";
import { FeedSource } from "./FeedSource";
import { ToDate } from "./ToDate";

/** Between two sessions of a feed that plays, in milliseconds. */
const PACES: [number, string][] = [
  [400, "quickly"],
  [1200, "steadily"],
  [4000, "slowly"],
];
const WEEK = 5;
/** Sessions that are asked for at once on the way to a day. */
const STRIDE = 5;

export function Feed() {
  const feed = useFeed();
  const next = useNextSessions();
  const [pace, setPace] = useState<number | null>(null);
  /** The day up to which it goes on by itself. */
  const [until, setUntil] = useState<string | null>(null);
  const upcoming = feed.data?.next ?? null;
  const over = upcoming === null;
  const { isPending, mutate } = next;
  const going = pace !== null || until !== null;
  const stop = () => {
    setPace(null);
    setUntil(null);
  };
  useEffect(() => {
    if (!going || isPending) return;
    if (upcoming === null || (until !== null && upcoming > until)) return stop();
    const wait = until === null ? (pace ?? 0) : 0;
    const many = until === null || daysBetween(upcoming, until) < 2 * STRIDE ? 1 : STRIDE;
    const timer = setTimeout(() => mutate(many, { onError: stop }), wait);
    return () => clearTimeout(timer);
  });
  if (!feed.data?.available) return null;
  return (
    <Box component="section" sx={{ mb: 3 }}>
      <Typography variant="h2">
        {feed.data.address ? "Sessions from this machine" : "The demo world goes on"}
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {where(feed.data)}
      </Typography>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
        <Button variant="outlined" size="small" disabled={over || isPending || going} onClick={() => mutate(1)}>
          Next session
        </Button>
        <Button variant="outlined" size="small" disabled={over || isPending || going} onClick={() => mutate(WEEK)}>
          Next week
        </Button>
        {going ? (
          <Button size="small" onClick={stop}>
            Pause
          </Button>
        ) : (
          <>
            <ToDate from={upcoming} go={setUntil} />
            <MenuButton
              label="Play"
              means="One session after another"
              items={PACES.map(([ms, words]) => ({ label: words, run: () => setPace(ms) }))}
            />
          </>
        )}
        <FeedSource address={feed.data.address ?? null} />
      </Box>
      <Box sx={{ height: 4, mt: 1 }}>{isPending && <LinearProgress aria-label="The session is coming in" />}</Box>
      {next.error && (
        <Typography role="alert" variant="body2" color="error">
          {next.error.message}
        </Typography>
      )}
      {next.data && <Brought report={next.data} />}
    </Box>
  );
}

const DAY_MS = 86_400_000;

const daysBetween = (from: string, to: string): number => (Date.parse(to) - Date.parse(from)) / DAY_MS;

function where({ next, left, problem, address }: Schemas["FeedState"]): string {
  if (problem) return `${problem}.`;
  if (next) return `Next session ${day(next)}; ${plain(left, 0)} are left.`;
  return address
    ? "It has no session beyond those that are here."
    : "Its last session has been reached. Start again with artemon demo --reset.";
}

function Brought({ report }: { report: Schemas["FeedReport"] }) {
  const days = report.from === report.to ? day(report.to) : `${day(report.from)} to ${day(report.to)}`;
  const rows = report.tables.map((t) => `${plain(t.rows, 0)} ${t.table.replaceAll("_", " ")}`).join(", ");
  return (
    <Box role="status">
      <Typography variant="body2">
        {days} brought {rows}.
      </Typography>
      <Box component="ul" sx={{ m: 0, mt: 0.5, pl: 2, fontSize: 13, color: tint("second") }}>
        {report.headlines.slice(0, 5).map((headline) => (
          <li key={headline}>{headline}</li>
        ))}
      </Box>
    </Box>
  );
}
