// My record: how often I was right, how well I placed my confidence, what not acting cost. Said plainly when it means little.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { Table } from "../../../components/Table";
import { count, percent, plain, signed } from "../../../headless/format";

type Record = Schemas["Record"];

export function MyRecord({ page }: { page: Schemas["DecisionsPage"] }) {
  const { settled, so_far, put_away } = page;
  const rows = [
    { name: "Three years old", of: settled },
    { name: "All, as it stands", of: so_far },
    { name: "Put away", of: put_away },
    ...page.screens.map((s) => ({ name: `From ${s.screen.name}`, of: s.record })),
  ].filter((r) => r.of.count > 0);
  return (
    <Box component="section" aria-label="My record" sx={{ mt: 3 }}>
      <Typography variant="h2">My record</Typography>
      <Typography variant="sentence" component="p" sx={{ maxWidth: 820, py: 0.5 }}>
        {inWords(settled, so_far)} {notActing(put_away)}
      </Typography>
      {rows.length > 0 && (
        <Table
          label="My record"
          head={[
            "Decisions",
            "Count",
            "Right",
            "Median over the index",
            "Mean confidence",
            "Brier score",
            "of the base rate",
          ]}
          rows={rows.map(({ name, of }) => ({
            key: name,
            cells: [
              name,
              count(of.count),
              of.hit_rate == null ? "–" : percent(of.hit_rate),
              of.median_excess == null ? "–" : signed(of.median_excess),
              of.confidence == null ? "–" : percent(of.confidence),
              of.brier == null ? "–" : plain(of.brier, 3),
              of.brier_of_base_rate == null ? "–" : plain(of.brier_of_base_rate, 3),
            ],
          }))}
        />
      )}
      {rows.length > 0 && (
        <Typography variant="body2" color="textSecondary">
          Right is what was bought or kept and beat the index, and what was sold or left alone and did not. The Brier
          score is the mean squared distance of confidence from outcome: 0 is perfect, always saying 50 % gives 0.25;
          smaller than that of the base rate means that your confidence told the good from the bad.
        </Typography>
      )}
    </Box>
  );
}

/** "2 of 3 decisions are right so far: too few to mean anything." */
function inWords(settled: Record, soFar: Record): string {
  const of = settled.count > 0 ? settled : soFar;
  if (of.count === 0) return "Nothing can be said yet: no session has followed a decision.";
  const told = `${of.right} of ${count(of.count)} ${of.count === 1 ? "decision was" : "decisions were"} right ${
    settled.count > 0 ? "after three years" : "so far"
  }`;
  return of.few ? `${told}: too few to mean anything, twenty would say a little.` : `${told}.`;
}

function notActing(putAway: Record): string {
  if (putAway.count === 0 || putAway.median_excess == null) return "";
  const cost = putAway.median_excess > 0;
  return `What you put away ${cost ? "beat" : "fell behind"} the index by ${percent(Math.abs(putAway.median_excess))} in the middle${
    cost ? ": not acting cost that" : ""
  }.`;
}
