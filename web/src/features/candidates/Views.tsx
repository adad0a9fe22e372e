// Beside the table: the sectors, and how sure the first ten are.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { Table } from "../../components/Table";
import { percent, plain } from "../../headless/format";
import { Record } from "../backtests/Record";

const shown = (x: number | null | undefined, words: (x: number) => string) => (x == null ? "–" : words(x));

export function Sectors({ rows }: { rows: Schemas["SectorMedians"][] }) {
  return (
    <Box sx={{ overflowY: "auto", maxWidth: 820 }}>
      <Table
        label="The middle company of each sector"
        head={["Sector", "Companies", "In range", "Margin of safety", "Quality", "Expected return"]}
        rows={rows.map((s) => ({
          key: s.sector,
          cells: [
            s.sector || "without a sector",
            plain(s.companies, 0),
            plain(s.in_range, 0),
            shown(s.margin_of_safety, percent),
            shown(s.quality, (q) => plain(q, 0)),
            shown(s.expected_return, percent),
          ],
        }))}
      />
      <Typography variant="caption" color="textSecondary">
        Margin, quality and return are those of the middle company: half of the sector has more.
      </Typography>
    </Box>
  );
}

export function HowSure({ answer }: { answer: Schemas["RankAnswer"] }) {
  const most = Math.max(...answer.sensitivity.map((s) => s.enter.length), 0);
  return (
    <Box sx={{ overflowY: "auto", maxWidth: 920 }}>
      <Typography sx={{ mb: 1 }}>
        {most === 0
          ? "The first ten stay the same under each of these changes."
          : `Up to ${most} of the first ten depend on a single assumption.`}
      </Typography>
      <Table
        label="The first ten under other assumptions"
        left={[0, 2, 3]}
        head={["If", "In range", "Enter the first ten", "Leave them"]}
        rows={answer.sensitivity.map((s) => ({
          key: s.change,
          cells: [s.change, plain(s.in_range, 0), s.enter.join(", ") || "none", s.leave.join(", ") || "none"],
        }))}
      />
      <Typography variant="caption" color="textSecondary">
        As things stand {plain(answer.in_range, 0)} are in range.
      </Typography>
      <Box sx={{ mt: 3 }}>
        <Record />
      </Box>
    </Box>
  );
}
