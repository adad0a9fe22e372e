// The simulated feed of the demo world: the next session, or one after another.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { useFeed, useNextSessions } from "../../api/queries";
import { day, plain } from "../../headless/format";
import { tint } from "../../theme/theme";

/** Between two sessions of a feed that plays. */
const PAUSE_MS = 1200;
const WEEK = 5;

export function Feed() {
  const feed = useFeed();
  const next = useNextSessions();
  const [playing, setPlaying] = useState(false);
  const over = feed.data?.next == null;
  const { isPending, mutate } = next;
  useEffect(() => {
    if (!playing || isPending || over) return;
    const timer = setTimeout(() => mutate(1, { onError: () => setPlaying(false) }), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [playing, isPending, over, mutate]);
  if (!feed.data?.available) return null;
  return (
    <Box component="section" sx={{ mb: 3 }}>
      <Typography variant="h2">The demo world goes on</Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {over
          ? "Its last session has been reached. Start again with artemon demo --reset."
          : `Next session ${day(feed.data.next ?? "")}; ${plain(feed.data.left, 0)} are left.`}
      </Typography>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <Button variant="outlined" size="small" disabled={over || isPending || playing} onClick={() => mutate(1)}>
          Next session
        </Button>
        <Button variant="outlined" size="small" disabled={over || isPending || playing} onClick={() => mutate(WEEK)}>
          Next week
        </Button>
        <Button variant="text" size="small" disabled={over} onClick={() => setPlaying(!playing)}>
          {playing ? "Pause" : "Play"}
        </Button>
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
