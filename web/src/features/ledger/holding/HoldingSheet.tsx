// One holding: its price with what was bought and sold, why its value changed since, whether its reasons still hold.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Schemas } from "../../../api/client";
import { useValueChange } from "../../../api/evidence";
import { Answered } from "../../../components/Answered";
import { Table } from "../../../components/Table";
import { useAddress, useAsOf } from "../../../headless/asOf";
import { compact, day, percent, plain, price, signed } from "../../../headless/format";
import { useDeciding } from "../../../headless/deciding";
import { DecisionSheet } from "../decisions/DecisionSheet";
import { TradeChart } from "./TradeChart";

type Holding = Schemas["HoldingRow"];

interface Props {
  h: Holding;
  page: Schemas["LedgerPage"];
  close: () => void;
}

export function HoldingSheet({ h, page, close }: Props) {
  const address = useAddress();
  const [asOf] = useAsOf();
  const [looking, look] = useState(false);
  const decide = useDeciding((s) => s.ask);
  const orders = page.orders.filter((o) => o.account === h.account && o.symbol === h.symbol && h.symbol !== "");
  return (
    <Dialog open onClose={close} fullWidth maxWidth="md" aria-label={h.name}>
      <DialogTitle sx={{ pb: 0 }}>
        {h.symbol ? (
          <Link component={RouterLink} to={address(`/companies/${h.symbol}`)} onClick={close}>
            {h.name}
          </Link>
        ) : (
          h.name
        )}{" "}
        <span className="faint light">{h.account}</span>
      </DialogTitle>
      <DialogContent>
        <Typography variant="sentence" component="p" sx={{ mb: 1 }}>
          {inASentence(h)}
        </Typography>
        {h.symbol && <TradeChart h={h} orders={orders} asOf={page.as_of} />}
        {h.symbol && h.since < page.as_of && <SinceBought h={h} asOf={asOf} />}
        <Reasons h={h} look={() => look(true)} decide={() => decide(h.symbol, "keep")} />
        <Lots h={h} />
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Close</Button>
      </DialogActions>
      {looking && h.decision && (
        <DecisionSheet id={h.decision} asOf={asOf} index={page.index ?? null} close={() => look(false)} />
      )}
    </Dialog>
  );
}

/** "40 bought at 31.20 on average since 3 Nov 2026, now 33.10: +6.1 % with income, 64 ZOC ahead of the index." */
function inASentence(h: Holding): string {
  const gained = h.cost > 0 ? `: ${signed((h.gain + h.income) / h.cost)} with income` : "";
  const ahead = h.ahead_of_index_base;
  const index = ahead == null ? "" : `, ${compact(Math.abs(ahead))} ${ahead < 0 ? "behind" : "ahead of"} the index`;
  const now = h.price == null ? "" : `, now ${price(h.price)} ${h.price_currency}`;
  const shares = plain(h.quantity, Number.isInteger(h.quantity) ? 0 : 2);
  return `${shares} held at ${price(h.cost_a_share)} ${h.currency} on average since ${day(h.since)}${now}${gained}${index}.`;
}

/** Why the value changed since it was bought. */
function SinceBought({ h, asOf }: { h: Holding; asOf: string | undefined }) {
  const answer = useValueChange(h.symbol, h.since, asOf);
  return (
    <Box component="section" aria-label="Why did the value change since I bought?" sx={{ mt: 1.5 }}>
      <Typography variant="h3">Value since I bought</Typography>
      <Answered answer={answer} rows={2}>
        {(c) => <Typography className="second">{c.sentence}</Typography>}
      </Answered>
    </Box>
  );
}

function Reasons({ h, look, decide }: { h: Holding; look: () => void; decide: () => void }) {
  return (
    <Box component="section" aria-label="Why it is held" sx={{ mt: 1.5 }}>
      <Typography variant="h3">Do the reasons still hold?</Typography>
      <Box className={h.thesis ? "serif" : "faint"} sx={{ fontSize: 15 }}>
        {h.thesis || (h.decision ? "No thesis was written." : "Nothing was written down when it was bought.")}
      </Box>
      <Typography variant="body2" className={h.red_flags ? "clay" : "second"}>
        {flags(h)}
      </Typography>
      {h.decision ? (
        <Button variant={h.review_due ? "contained" : "outlined"} onClick={look} sx={{ mt: 0.5 }}>
          {h.review_due ? "Look at it again: it is due" : "Then and now, and a review"}
        </Button>
      ) : (
        h.symbol && <Button onClick={decide}>Write down why it is kept</Button>
      )}
    </Box>
  );
}

function flags({ red_flags: n, verdict }: Holding): string {
  const said = n ? `${n} red ${n === 1 ? "flag" : "flags"} today` : "No red flags today";
  return verdict ? `${said}; the verdict is "${verdict}".` : `${said}.`;
}

function Lots({ h }: { h: Holding }) {
  return (
    <Table
      label="Lots"
      head={["Bought on", "Shares", "Cost", "a share", "Gain", "of cost"]}
      rows={h.lots.map((l, i) => {
        const worth = h.quantity > 0 ? (h.value * l.quantity) / h.quantity : 0;
        return {
          key: String(i),
          cells: [
            day(l.date),
            plain(l.quantity, Number.isInteger(l.quantity) ? 0 : 2),
            `${compact(l.cost)} ${h.currency}`,
            price(l.cost / l.quantity),
            compact(worth - l.cost),
            l.cost > 0 ? percent(worth / l.cost - 1) : "",
          ],
        };
      })}
    />
  );
}
