// Orders: those that work, with how far the price is from each; then what became of the others.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { Fragment, useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Schemas } from "../../../api/client";
import { ledger, useLedgerChange } from "../../../api/ledger";
import { ChangeForm } from "./ChangeForm";
import { Table } from "../../../components/Table";
import { useAddress } from "../../../headless/asOf";
import { day, plain, price, signed } from "../../../headless/format";

type Order = Schemas["OrderRow"];

const works = (o: Order) => o.state === "open" || o.state === "partly";
/** Orders that are over shown at first. */
const SHOWN = 6;

export function Orders({ orders }: { orders: Order[] }) {
  const [all, showAll] = useState(false);
  const change = useLedgerChange<void>();
  const [changing, setChanging] = useState<Order | null>(null);
  const open = orders.filter(works);
  const over = orders.filter((o) => !works(o));
  const shown = [...open, ...(all ? over : over.slice(0, SHOWN))];
  return (
    <Box component="section" aria-label="Orders" sx={{ mt: 3 }}>
      <Typography variant="h2">
        Orders <span className="faint light small">{open.length > 0 && `${open.length} open`}</span>
      </Typography>
      {change.error && <Typography className="clay">{change.error.message}</Typography>}
      {orders.length === 0 ? (
        <Typography variant="body2" color="textSecondary" sx={{ py: 1 }}>
          None was given yet.
        </Typography>
      ) : (
        <Table
          label="Orders"
          head={["Company", "Side", "Shares", "Limit", "Last price", "Away", "Filled at", "Good", "Change"]}
          left={[0, 1, 7, 8]}
          offPaper={[8]}
          rows={shown.map((o) => ({
            key: o.order,
            quiet: !works(o),
            cells: cells(
              o,
              works(o) && { cancel: () => change.mutate(() => ledger.cancel(o.order)), change: () => setChanging(o) },
            ),
          }))}
        />
      )}
      {changing && <ChangeForm order={changing} close={() => setChanging(null)} />}
      {!all && over.length > SHOWN && <Button onClick={() => showAll(true)}>All {orders.length}</Button>}
    </Box>
  );
}

function cells(o: Order, can: false | { cancel: () => void; change: () => void }) {
  const away = o.limit != null && o.last != null && works(o) ? o.limit / o.last - 1 : null;
  return [
    <Name key="name" o={o} />,
    o.side === "buy" ? "buy" : "sell",
    plain(o.quantity, Number.isInteger(o.quantity) ? 0 : 2),
    o.limit == null ? "at market" : `${price(o.limit)} ${o.price_currency}`,
    o.last == null || !works(o) ? "" : price(o.last),
    away == null ? "" : `${signed(away)}`,
    o.price == null ? "" : `${price(o.price)}${o.left > 0 ? `, ${plain(o.filled, 0)} of it` : ""}`,
    standing(o),
    can ? (
      <Fragment key="change">
        <Button onClick={can.change}>Change</Button>
        <Button onClick={can.cancel}>Cancel</Button>
      </Fragment>
    ) : (
      ""
    ),
  ];
}

function standing(o: Order): string {
  const until = /^\d/.test(o.good) ? `until ${day(o.good)}` : o.good === "day" ? "next session" : "until cancelled";
  if (works(o)) return o.linked_to ? `${until} · sell rule of ${o.linked_to}` : until;
  const words = { filled: "filled", expired: "expired", cancelled: `cancelled ${o.why ?? ""}`, open: "", partly: "" };
  return `${words[o.state]}${o.ended_on ? ` on ${day(o.ended_on)}` : ""}`;
}

function Name({ o }: { o: Order }) {
  const address = useAddress();
  return (
    <>
      <Link component={RouterLink} to={address(`/companies/${o.symbol}`)} sx={{ fontWeight: 600 }}>
        {o.name}
      </Link>{" "}
      <span className="faint">{o.order}</span>
    </>
  );
}
