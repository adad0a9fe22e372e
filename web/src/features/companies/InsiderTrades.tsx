// What insiders did with their own money; grants and planned trades in grey, for they are no conviction.
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useAfterPurchases } from "../../api/queries";
import { FigureCell } from "../../components/FigureCell";
import { Failed } from "../../components/States";
import { useAsOf } from "../../headless/asOf";
import { day, percent, plain, price } from "../../headless/format";
import { tint } from "../../theme/theme";
import { Table } from "../../components/Table";

const signed = (x: number): string => (x > 0 ? `+${percent(x)}` : percent(x));

const ORDINALS = ["", "", "2nd", "3rd"];

/** What the trade says beside its amount. */
function signsInWords({ signs: s }: Schemas["TradeRow"]): string {
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

export function InsiderTrades({ page }: { page: Schemas["CompanyPage"] }) {
  if (page.trades.length === 0) {
    return (
      <Typography variant="body2" color="textSecondary">
        The dataset has no insider trades of this company.
      </Typography>
    );
  }
  return (
    <>
      <Followed symbol={page.company.symbol} />
      <Table
        label="Insider trades"
        maxHeight={250}
        left={[0, 1, 2, 3, 8]}
        head={["Traded", "Who", "Role", "What", "Shares", "Price", `Amount, ${page.base}`, "Price since", "Signs"]}
        rows={page.trades.map((t, i) => ({
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
            t.price > 0 ? price(t.price) : "–",
            <FigureCell key="amount" figure={t.amount} unit="money" />,
            typeof t.signs.since === "number" ? signed(t.signs.since) : "–",
            t.counts ? signsInWords(t) : "",
          ],
        }))}
      />
    </>
  );
}

/** What the price did after earlier purchases, against all companies; asked for, since all of them are looked at. */
function Followed({ symbol }: { symbol: string }) {
  const [asOf] = useAsOf();
  const [asked, setAsked] = useState(false);
  const after = useAfterPurchases(symbol, asOf, asked);
  if (!asked) {
    return (
      <Button sx={{ ml: -0.6 }} onClick={() => setAsked(true)}>
        What followed earlier purchases?
      </Button>
    );
  }
  if (after.error) return <Failed error={after.error} retry={() => after.refetch()} />;
  if (!after.data) return <Typography variant="body2">Looking at all companies after each purchase…</Typography>;
  const within = (of: Schemas["Followed"] | null | undefined, months: string) =>
    typeof of?.median === "number" ? `${signed(of.median)} within ${months} of ${of.purchases}` : null;
  const said = [within(after.data.six_months, "6 months"), within(after.data.twelve_months, "12 months")];
  const known = said.filter(Boolean).join(", ");
  return (
    <Typography variant="body2" role="status">
      {known
        ? `Against the mean of all companies the price did ${known} purchases on the open market: medians.`
        : "No purchase on the open market is half a year old."}
    </Typography>
  );
}
