// What insiders did with their own money; grants and planned trades in grey, for they are no conviction. Filtered by what is asked.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { FigureCell } from "../../../components/FigureCell";
import { Table } from "../../../components/Table";
import { among, WordChoice } from "../../../components/WordChoice";
import { compact, day, numberOf, plain, price, signed } from "../../../headless/format";
import { tint } from "../../../theme/theme";

type Trade = Schemas["TradeRow"];

const ORDINALS = ["", "", "2nd", "3rd"];

/** What the trade says beside its amount. */
function signsInWords({ signs: s }: Trade): string {
  const holding = typeof s.of_holding === "number" ? `${signed(s.of_holding)} of holding` : "";
  const nth = s.purchase_of_year ?? 0;
  return [
    s.new_holding ? "new holding" : holding,
    s.first_in_two_years ? "first in two years" : "",
    nth > 1 ? `${ORDINALS[nth] ?? `${nth}th`} in 12 months` : "",
    s.after_a_fall ? "after a fall" : "",
    s.late ? `filed late, after ${s.days_to_filing} days` : "",
  ]
    .filter(Boolean)
    .join(" · ");
}

const capital = (words: string): string => `${words[0]?.toUpperCase()}${words.slice(1)}`;

const ANY_ROLE = "anybody";
const WHAT = { open: "open-market trades", bought: "purchases", sold: "sales", all: "everything" } as const;
const SIZES = [0, 10_000, 100_000, 1_000_000];

const is: Record<keyof typeof WHAT, (t: Trade) => boolean> = {
  open: (t) => /^(bought|sold)/.test(t.what),
  bought: (t) => t.what.startsWith("bought"),
  sold: (t) => t.what.startsWith("sold"),
  all: () => true,
};

export function Trades({ trades, base }: { trades: Trade[]; base: string }) {
  const [what, setWhat] = useState<keyof typeof WHAT>("open");
  const [role, setRole] = useState(ANY_ROLE);
  const [least, setLeast] = useState(0);
  const roles = [ANY_ROLE, ...new Set(trades.map((t) => t.role).filter((r) => r))];
  const size = (of: number) => (of === 0 ? "any amount" : `at least ${compact(of)} ${base}`);
  const shown = trades.filter(
    (t) => is[what](t) && (role === ANY_ROLE || t.role === role) && (numberOf(t.amount) ?? 0) >= least,
  );
  return (
    <>
      <Box sx={{ mt: 1 }}>
        <Typography variant="sentence" component="span">
          <WordChoice
            means="What is shown"
            word={capital(WHAT[what])}
            items={among(Object.keys(WHAT) as (keyof typeof WHAT)[], what, (of) => capital(WHAT[of]), setWhat)}
          />{" "}
          by <WordChoice means="Whose trades" word={role} items={among(roles, role, (of) => of, setRole)} />, of{" "}
          <WordChoice means="Least amount" word={size(least)} items={among(SIZES, least, size, setLeast)} />:{" "}
          {shown.length}
        </Typography>
      </Box>
      <Table
        label="Insider trades"
        maxHeight={280}
        left={[0, 1, 2, 3, 8]}
        head={["Traded", "Who", "Role", "What", "Shares", "Price", `Amount, ${base}`, "Price since", "Signs"]}
        rows={shown.map((t, i) => ({
          key: `${i}-${t.traded_on}-${t.insider}`,
          quiet: !t.counts,
          cells: [
            <span key="day" title={`filed ${day(t.filed_on)}`}>
              {day(t.traded_on)}
            </span>,
            t.insider,
            t.role,
            <span
              key="what"
              style={{
                fontWeight: t.counts ? 600 : 400,
                color: !t.counts ? undefined : t.what === "bought" ? tint("teal") : tint("clay"),
              }}
            >
              {t.what}
            </span>,
            plain(t.shares, 0),
            t.price ? price(t.price) : "–",
            <FigureCell key="amount" figure={t.amount} unit="money" />,
            typeof t.signs.since === "number" ? signed(t.signs.since) : "–",
            <Box
              key="signs"
              component="span"
              sx={{ display: "block", width: 168, whiteSpace: "normal", lineHeight: 1.25 }}
            >
              {t.counts ? signsInWords(t) : ""}
            </Box>,
          ],
        }))}
      />
    </>
  );
}
