// The voyage: a thin bar a pick from entry to exit, one line a company, coloured where it beat the benchmark. A click opens the company as
// it was known on the day of the decision.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useMemo, useRef } from "react";
import { useNavigate } from "react-router";
import type { Opened, Outcome } from "../../../api/backtests";
import { day, signed } from "../../../headless/format";
import { useWidth } from "../../../headless/useWidth";
import { tint } from "../../../theme/theme";
import { alongDays, LEFT, WHOLE } from "./frame";

/** Pixels of a line, and the most lines seen at once. */
const LINE = 5;
const MOST = 48;

type Pick = Outcome["picks"][number];

export function Voyage({ outcome, names }: { outcome: Outcome; names: Opened["names"] }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const navigate = useNavigate();
  const companies = useMemo(() => byCompany(outcome.picks), [outcome.picks]);
  const x = alongDays(outcome, width);
  if (companies.length === 0) return null;
  const beat = outcome.picks.filter((p) => p.beat).length;
  return (
    <Box ref={box} component="section" aria-label="Picks over time" sx={{ minWidth: 0 }}>
      <Box
        sx={{ maxHeight: MOST * LINE + 8, overflowY: "auto", "@media print": { maxHeight: "none" } }}
        tabIndex={0}
        role="group"
        aria-label={`${outcome.picks.length} picks of ${companies.length} companies, ${beat} of which beat the benchmark`}
      >
        <svg
          width={width}
          height={companies.length * LINE + 8}
          viewBox={`0 0 ${width} ${companies.length * LINE + 8}`}
          style={WHOLE}
        >
          <title>Picks over time</title>
          <text x={LEFT - 6} y={10} textAnchor="end" fontSize={11} fill={tint("second")}>
            picks
          </text>
          {companies.map(([symbol, picks], line) =>
            picks.map((p) => (
              <a
                key={`${symbol}${p.from}`}
                href={`/companies/${encodeURIComponent(symbol)}?as_of=${p.decision}`}
                aria-label={told(p, names[symbol]?.name ?? symbol)}
                data-hint={told(p, names[symbol]?.name ?? symbol)}
                tabIndex={-1}
                onClick={(e) => {
                  e.preventDefault();
                  navigate(`/companies/${encodeURIComponent(symbol)}?as_of=${p.decision}`);
                }}
              >
                <rect
                  x={x(p.from)}
                  y={line * LINE + 3}
                  width={Math.max(x(p.to) - x(p.from) - 0.5, 1)}
                  height={LINE - 1.5}
                  fill={tint(p.beat ? "teal" : "history")}
                />
              </a>
            )),
          )}
        </svg>
      </Box>
      <Typography variant="body2" color="textSecondary">
        Each pick from entry to exit, a line for each company; coloured where it beat the benchmark ({beat} of{" "}
        {outcome.picks.length}). A click opens the company as it was known that day.
      </Typography>
    </Box>
  );
}

function byCompany(picks: Pick[]): [string, Pick[]][] {
  const all = new Map<string, Pick[]>();
  for (const p of picks) all.set(p.symbol, [...(all.get(p.symbol) ?? []), p]);
  return [...all];
}

const told = (p: Pick, name: string): string =>
  `${name} (${p.symbol}), ${day(p.from)} to ${day(p.to)}: ${signed(p.return)}, the benchmark ${signed(p.benchmark_return)}`;
