// What is held: where each was bought and stands now on one axis of money, what it gained, in what it says of itself today.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { parseAsString, useQueryState } from "nuqs";
import type { Schemas } from "../../../api/client";
import { Table } from "../../../components/Table";
import { compact, day, percent, plain, price, signed } from "../../../headless/format";
import { useOrdering } from "../../../headless/ordering";
import { gain } from "./Accounts";
import { HoldingSheet } from "./HoldingSheet";
import { LotAxis } from "./LotAxis";

type Holding = Schemas["HoldingRow"];

export function Holdings({ page }: { page: Schemas["LedgerPage"] }) {
  const order = useOrdering((s) => s.ask);
  const ids = new Map(page.accounts.map((a) => [a.name, a]));
  const sells = (h: Holding) => h.symbol !== "" && ids.get(h.account)?.by_hand === false;
  const [opened, open] = useQueryState("holding", parseAsString);
  const shown = page.holdings.find((h) => keyOf(h) === opened);
  const rows = [...page.holdings].sort((a, b) => b.value_base - a.value_base);
  return (
    <Box component="section" aria-label="Holdings" sx={{ mt: 3 }}>
      <Typography variant="h2">
        Holdings <span className="faint light small">{rows.length > 0 && rows.length}</span>
      </Typography>
      {rows.length === 0 ? (
        <Typography variant="body2" color="textSecondary" sx={{ py: 1 }}>
          Nothing is held. Press b on any company to give an order: a limit at the price to pay, good for some weeks.
        </Typography>
      ) : (
        <Table
          label="Holdings"
          head={[
            "Holding",
            "Shares",
            "Cost",
            "Price",
            "Bought, price and value",
            "Worth",
            "Gain",
            "of cost",
            "Weight",
            "Over the index",
            "Verdict",
            "Order",
          ]}
          left={[0, 4, 10]}
          offPaper={[4, 11]}
          rows={rows.map((h) => ({
            key: keyOf(h),
            cells: [
              <Name key="name" h={h} open={() => void open(keyOf(h))} several={page.accounts.length > 1} />,
              plain(h.quantity, Number.isInteger(h.quantity) ? 0 : 2),
              price(h.cost_a_share),
              h.price == null ? "–" : `${price(h.price)} ${h.price_currency}`,
              <LotAxis key="axis" h={h} />,
              `${compact(h.value)} ${h.currency}`,
              gain(h.gain + h.income),
              h.gain_share == null ? "" : signed(h.gain_share + h.income / h.cost),
              percent(h.weight),
              h.ahead_of_index_base == null ? "–" : gain(h.ahead_of_index_base),
              inWords(h),
              sells(h) ? (
                <Button key="sell" onClick={() => order(h.symbol, "sell", ids.get(h.account)?.id)}>
                  Sell
                </Button>
              ) : (
                ""
              ),
            ],
          }))}
        />
      )}
      {shown && <HoldingSheet h={shown} page={page} close={() => void open(null)} />}
    </Box>
  );
}

/** "in range · 2 flags". */
function inWords({ verdict, red_flags }: Holding): string {
  const flags = red_flags ? `${red_flags} ${red_flags === 1 ? "flag" : "flags"}` : "";
  return [verdict, flags].filter(Boolean).join(" · ");
}

/** By which a holding stands in the address. */
const keyOf = (h: Holding): string => `${h.account} ${h.symbol || h.name}`;

function Name({ h, open, several }: { h: Holding; open: () => void; several: boolean }) {
  const since = `since ${day(h.since)}${several ? ` · ${h.account}` : ""}`;
  return (
    <Box sx={{ maxWidth: 230, overflow: "hidden", textOverflow: "ellipsis" }}>
      <Link component="button" type="button" onClick={open} sx={{ fontWeight: 600 }} data-hint={h.name}>
        {h.name}
      </Link>
      {h.review_due && <span className="brass small"> look again</span>}
      {h.thesis && (
        <Box className="serif second" sx={{ overflow: "hidden", textOverflow: "ellipsis" }} data-hint={h.thesis}>
          {h.thesis}
        </Box>
      )}
      <Box className="faint small">{since}</Box>
    </Box>
  );
}
