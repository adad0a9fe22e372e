// What came of it: year by year against the index, by sector, by the screen from which companies came; and the calendar of income.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { useResults } from "../../../api/ledger";
import { Answered } from "../../../components/Answered";
import { ExcessBar } from "../../../components/ExcessBar";
import { Table } from "../../../components/Table";
import { compact, count, percent, signed } from "../../../headless/format";
import { gain } from "../holding/Accounts";
import { Income } from "./Income";

type Results = Schemas["ResultsAnswer"];

interface Props {
  asOf: string | undefined;
  index: string | null;
}

export function ResultsView({ asOf, index }: Props) {
  return (
    <Box sx={{ mt: 2 }}>
      <Answered answer={useResults({ as_of: asOf ?? null, index, lines: null })} rows={8}>
        {(results) => (
          <>
            <Years results={results} />
            <Income results={results} />
            <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", lg: "1fr 1fr" }, columnGap: 3 }}>
              <Groups label="By sector" head="Sector" rows={results.sectors} />
              <Groups label="By the screen they came from" head="Screen" rows={results.screens} />
            </Box>
          </>
        )}
      </Answered>
    </Box>
  );
}

function Years({ results: { years, base } }: { results: Results }) {
  const excess = (y: Schemas["YearResult"]) =>
    y.time_weighted == null || y.index == null ? null : y.time_weighted - y.index;
  const most = Math.max(0.01, ...years.map((y) => Math.abs(excess(y) ?? 0)));
  return (
    <Box component="section" aria-label="By year">
      <Typography variant="h2">By year</Typography>
      <Table
        label="By year"
        head={[
          "Year",
          "Start",
          "Paid in",
          "End",
          "Gain",
          "Return",
          "Index",
          "Over the index",
          "Behind, ahead",
          "Realised",
          "Income",
          "Fees",
        ]}
        left={[0, 8]}
        rows={years.map((y) => ({
          key: String(y.year),
          cells: [
            y.year,
            compact(y.start),
            compact(y.paid_in),
            compact(y.end),
            <span key="gain">
              {gain(y.gain)} {base}
            </span>,
            y.time_weighted == null ? "–" : signed(y.time_weighted),
            y.index == null ? "–" : signed(y.index),
            excess(y) == null ? "–" : signed(excess(y) as number),
            <ExcessBar key="bar" x={excess(y)} most={most} />,
            y.realised == null ? "–" : compact(y.realised),
            y.income == null ? "–" : compact(y.income),
            y.fees == null ? "–" : compact(y.fees),
          ],
        }))}
      />
      <Typography variant="body2" color="textSecondary">
        The return weights each day alike, whatever was paid in or taken out; the first and the running year are not
        whole ones.
      </Typography>
    </Box>
  );
}

function Groups({ label, head, rows }: { label: string; head: string; rows: Schemas["GroupResult"][] }) {
  if (rows.length === 0) return null;
  return (
    <Box component="section" aria-label={label} sx={{ mt: 3, minWidth: 0 }}>
      <Typography variant="h2">{label}</Typography>
      <Table
        label={label}
        head={[head, "Holdings", "Worth", "Realised", "Not realised", "Income", "Gain"]}
        rows={rows.map((g) => ({
          key: g.name,
          cells: [
            g.partly ? `${g.name} (a rate is missing)` : g.name,
            count(g.count),
            compact(g.worth),
            compact(g.realised),
            compact(g.unrealised),
            compact(g.income),
            <span key="gain">{gain(g.gain)}</span>,
          ],
        }))}
      />
      {rows.length > 1 && (
        <Typography variant="body2" color="textSecondary">
          {leader(rows)}
        </Typography>
      )}
    </Box>
  );
}

/** "Most came from Pharma: 62 % of all gains." */
function leader(rows: Schemas["GroupResult"][]): string {
  const gains = rows.filter((r) => r.gain > 0).reduce((sum, r) => sum + r.gain, 0);
  const first = rows[0];
  return first && gains > 0 && first.gain > 0
    ? `Most came from ${first.name}: ${percent(first.gain / gains)} of all gains.`
    : "Nothing of it gained yet.";
}
