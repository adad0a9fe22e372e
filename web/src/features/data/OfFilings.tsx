// What became of filings: the facts by what became of them, what to look at, what made no row.
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { plain } from "../../headless/format";
import { OwnConcepts } from "./OwnConcepts";

export function OfFilings({ report }: { report: Schemas["ImportReport"] }) {
  const counts = new Map<string, number>();
  for (const f of report.facts) counts.set(f.outcome, (counts.get(f.outcome) ?? 0) + f.count);
  const notes = [
    ...report.warnings,
    ...report.notes.map(
      (l) => `${l.file}: ${l.what}${l.count > 1 ? `, ${l.count}` : ""}${l.detail ? ` (${l.detail})` : ""}`,
    ),
  ];
  return (
    <>
      {counts.size > 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mt: 0.5 }}>
          Facts:{" "}
          {[...counts]
            .reverse()
            .map(([outcome, n]) => `${plain(n, 0)} ${outcome}`)
            .join(", ")}
        </Typography>
      )}
      {notes.slice(0, 6).map((note) => (
        <Typography key={note} variant="body2" color="textSecondary" sx={{ mt: 0.5, overflowWrap: "anywhere" }}>
          {note}
        </Typography>
      ))}
      {notes.length > 6 && (
        <Typography variant="body2" color="textSecondary">
          and {notes.length - 6} more
        </Typography>
      )}
      <OwnConcepts concepts={report.own_concepts} />
    </>
  );
}
