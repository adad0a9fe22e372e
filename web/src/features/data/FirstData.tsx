// From nothing to a screened market: what to bring, in which order, what is there and what is missing.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { companies, plain } from "../../headless/format";
import { tint } from "../../theme/theme";

type First = Schemas["FirstData"];
type Missing = Schemas["Missing"];

interface Step {
  title: string;
  /** What it gives, and what may be dropped. */
  words: string;
  samples: string[];
  /** How far it is; undefined where nothing of it is there. */
  there?: string;
  /** What is still to be brought. */
  missing?: ReactNode;
}

/** Some of what is missing, by name. */
function some({ count, some }: Missing): string {
  const more = count - some.length;
  return some.join(", ") + (more > 0 ? ` and ${plain(more, 0)} more` : "");
}

function steps(f: First): Step[] {
  return [
    {
      title: "Statements",
      words:
        "A regulator's quarterly statement sets or the facts of its filers: companies with all they filed. Single filings and tables do as well.",
      samples: ["statements-2024q1.zip", "statements-2024q2.zip"],
      there: f.with_statements > 0 ? `of ${companies(f.with_statements)}` : undefined,
      missing: f.without_statements.count > 0 && `missing for ${some(f.without_statements)}`,
    },
    {
      title: "Identifiers",
      words: "A table of numbers, symbols and ISINs (cik, ticker, isin, mic) gives each company its listing.",
      samples: ["tickers.csv"],
      there: f.listed > 0 ? `${plain(f.listed, 0)} listed` : undefined,
      missing: f.unlisted.count > 0 && `no listing of ${some(f.unlisted)}`,
    },
    {
      title: "Prices",
      words:
        "A folder or zip of price files, one a symbol or one a day; or one table of all, as CSV, workbook or Parquet.",
      samples: ["prices.zip"],
      there: f.with_prices > 0 ? `of ${plain(f.with_prices, 0)}` : undefined,
      missing: f.without_prices.count > 0 && `missing for ${some(f.without_prices)}`,
    },
    {
      title: "Exchange rates",
      words:
        "A central bank's reference rates, a column a currency. Needed where companies report or trade in several currencies.",
      samples: ["exchange-rates.csv"],
      there: f.without_fx.count === 0 && f.listed > 0 ? "every currency reaches your base currency" : undefined,
      missing: f.without_fx.count > 0 && `missing for ${some(f.without_fx)}`,
    },
    {
      title: "Government yields",
      words: "Ten-year yields by day or month: what shares are compared with and discounted by.",
      samples: ["government-yields.csv"],
      there: f.without_yield.count === 0 && f.listed > 0 ? "for every currency" : undefined,
      missing: f.without_yield.count > 0 && `missing in ${some(f.without_yield)}`,
    },
    {
      title: "Insiders' trades",
      words:
        "Quarterly sets of insiders' trades, or single ownership filings. Screens by insiders need them; others do not.",
      samples: ["insider-trades-2024q1.zip"],
      there: f.with_insiders > 0 ? `of ${plain(f.with_insiders, 0)}` : undefined,
    },
    {
      title: "Splits and dividends",
      words:
        "A table of actions (symbol, ex_date, kind, ratio, amount): without it splits tear prices and yields are not known.",
      samples: [],
      there: f.with_actions > 0 ? `of ${plain(f.with_actions, 0)}` : undefined,
    },
  ];
}

/** Whether everything that a screen needs is there. */
export const isComplete = (f: First): boolean =>
  f.with_statements > 0 && f.with_prices > 0 && f.unlisted.count === 0 && f.without_prices.count === 0;

export function FirstData({ first }: { first: First }) {
  return (
    <Box component="ol" aria-label="First data" sx={{ listStyle: "none", p: 0, m: 0, mt: 1, maxWidth: 760 }}>
      {steps(first).map((s, i) => (
        <Box
          key={s.title}
          component="li"
          sx={{
            display: "grid",
            gridTemplateColumns: "28px minmax(0, 1fr)",
            py: 1,
            borderTop: `1px solid ${tint("hairline")}`,
          }}
        >
          <Mark n={i + 1} state={s.missing ? "part" : s.there ? "done" : "open"} />
          <Box>
            <Typography sx={{ fontWeight: 600 }}>
              {s.title}
              {s.there && (
                <Box component="span" sx={{ fontWeight: 400, color: tint("second") }}>
                  {" "}
                  {s.there}
                </Box>
              )}
            </Typography>
            <Typography variant="body2" color="textSecondary">
              {s.words}
            </Typography>
            {s.missing && (
              <Typography variant="body2" className="clay">
                {s.missing}
              </Typography>
            )}
            {s.samples.length > 0 && (
              <Typography variant="caption" color="textSecondary">
                To try with:{" "}
                {s.samples.map((name, at) => (
                  <span key={name}>
                    {at > 0 && ", "}
                    <Link href={`/samples/${name}`} download>
                      {name}
                    </Link>
                  </span>
                ))}
              </Typography>
            )}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

/** Done, partly there or still to come. */
function Mark({ n, state }: { n: number; state: "done" | "part" | "open" }) {
  const done = state === "done";
  return (
    <Box
      role="img"
      aria-label={state === "done" ? "There" : state === "part" ? "Something is missing" : "Nothing yet"}
      sx={{
        width: 20,
        height: 20,
        borderRadius: "50%",
        display: "grid",
        placeItems: "center",
        fontSize: 11,
        border: `1px solid ${tint(done ? "teal" : "faint")}`,
        background: done ? tint("teal") : "transparent",
        color: done ? tint("paper") : tint("second"),
      }}
    >
      {done ? "✓" : n}
    </Box>
  );
}
