// The figures of a result, with the benchmark's where it has them.
import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { Outcome } from "../../../api/backtests";
import { count, day, percent, plain, signed } from "../../../headless/format";
import { tint } from "../../../theme/theme";

const some = (x: number | null | undefined, words: (x: number) => string): string => (x == null ? "–" : words(x));

export function KeyFigures({ outcome: o }: { outcome: Outcome }) {
  const rows: [string, string, string, string?][] = [
    ["Return a year", signed(o.annualised_return), signed(o.benchmark_annualised_return)],
    ["Return in all", signed(o.total_return), signed(o.benchmark_total_return)],
    ["Volatility a year", some(o.annual_volatility, percent), some(o.benchmark_volatility, percent)],
    [
      "Worst fall",
      percent(o.max_drawdown),
      percent(o.benchmark_max_drawdown),
      o.drawdown_from && o.drawdown_to ? `from ${day(o.drawdown_from)} to ${day(o.drawdown_to)}` : "",
    ],
    ["Sharpe ratio", some(o.sharpe, (x) => plain(x, 2)), "", `over government bonds at ${percent(o.risk_free)}`],
    ["Sortino ratio", some(o.sortino, (x) => plain(x, 2)), ""],
    ["Months that beat it", some(o.share_of_months_beating, percent), ""],
    ["Picks that beat it", some(o.share_of_picks_beating, percent), ""],
    ["Held on average", plain(o.average_held, 1), "", `of ${count(Math.round(mean(o.candidates)))} to choose from`],
    ["Turnover a year", percent(o.turnover_a_year), ""],
    ["Cost paid", percent(o.cost_paid), "", "of what it began with"],
    [
      "Cash on average",
      percent(o.average_cash),
      "",
      o.time_in_cash >= 0.005 ? `nothing held ${percent(o.time_in_cash)} of the time` : "",
    ],
    ["Rebalanced", `${count(o.rebalances.length)} times`, ""],
  ];
  return (
    <Paper component="aside" aria-label="Figures" sx={{ p: 1.5, alignSelf: "start", mt: 1, breakInside: "avoid" }}>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: "1fr auto auto",
          columnGap: 1.5,
          rowGap: 0.4,
          alignItems: "baseline",
          fontSize: 13,
        }}
      >
        <span />
        <Typography variant="caption" className="right">
          this screen
        </Typography>
        <Typography variant="caption" className="right" color="textSecondary">
          benchmark
        </Typography>
        {rows.map(([label, own, benchmark, more]) => (
          <Box key={label} sx={{ display: "contents" }}>
            <span className="second">{label}</span>
            <b className="right nowrap">{own}</b>
            <span className="right nowrap second">{benchmark}</span>
            {more && (
              <Typography
                variant="caption"
                sx={{ gridColumn: "1 / -1", color: tint("faint"), mt: -0.5, lineHeight: 1.2 }}
              >
                {more}
              </Typography>
            )}
          </Box>
        ))}
      </Box>
    </Paper>
  );
}

const mean = (all: number[]): number => all.reduce((sum, n) => sum + n, 0) / Math.max(all.length, 1);
