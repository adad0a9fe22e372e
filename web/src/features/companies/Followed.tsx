// On which of one's lists the company is, and what became of it since; and ways to follow it.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import { lazy, Suspense, useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Schemas } from "../../api/client";
import { useAlerts, useCompanyLists } from "../../api/following";
import { useActions } from "../../headless/actions";
import { useAddress, useAsOf } from "../../headless/asOf";
import { day, price, signed } from "../../headless/format";
import { useListing } from "../../headless/listing";
import { useDeciding } from "../../headless/deciding";
import { useOrdering } from "../../headless/ordering";
import { tint } from "../../theme/theme";

const AlertForm = lazy(async () => ({ default: (await import("../alerts/AlertForm")).AlertForm }));

export function Followed({ company, currency }: { company: Schemas["CompanyHit"]; currency: string }) {
  const [asOf] = useAsOf();
  const lists = useCompanyLists(company.symbol, asOf).data ?? [];
  const alerts = useAlerts().data ?? [];
  const address = useAddress();
  const ask = useListing((s) => s.ask);
  const order = useOrdering((s) => s.ask);
  const decide = useDeciding((s) => s.ask);
  const [alerting, alert] = useState(false);
  const put = () => ask([company], "its page");
  useActions([
    { keys: "l", label: "Put this company on a list", run: put },
    { keys: "b", label: "Order this company's shares", run: () => order(company.symbol) },
    { label: "Put this company away: looked at, not now", run: () => decide(company.symbol, "not_now") },
    { label: "Write down why this company is kept", run: () => decide(company.symbol, "keep") },
    { label: "Set an alert on this company", run: () => alert(true) },
  ]);
  const { symbol, isin, name } = company;
  return (
    <Box component="section" aria-label="Lists" sx={{ mt: 1.5, fontSize: 13 }}>
      {lists
        .filter((l) => l.member !== null)
        .map((l) => (
          <Box key={l.id} sx={{ py: 0.4, borderBottom: `1px solid ${tint("hairline")}` }}>
            <Box sx={{ display: "flex", gap: 1 }}>
              <Link component={RouterLink} to={address(`/lists?list=${l.id}`)} sx={{ flex: 1, fontWeight: 600 }} noWrap>
                {l.name}
              </Link>
              {l.since != null && (
                <span
                  className={l.since < 0 ? "clay" : "teal"}
                  data-hint={`Since it was added on ${day(l.added_on ?? "")}`}
                >
                  {signed(l.since)}
                </span>
              )}
            </Box>
            {l.member?.price != null && (
              <span className="brass">
                to pay {price(l.member.price)} {currency}{" "}
              </span>
            )}
            {l.member?.note && <span className="serif second">{l.member.note.split("\n")[0]}</span>}
          </Box>
        ))}
      <Box sx={{ display: "flex", ml: -0.6, mt: 0.5 }}>
        <Button onClick={put}>Put on a list</Button>
        <Button onClick={() => alert(true)}>Set an alert</Button>
        <Button onClick={() => order(company.symbol)}>Order</Button>
        <Button
          onClick={() => decide(company.symbol, "not_now")}
          data-hint="Looked at, not now: kept with what you see today"
        >
          Not now
        </Button>
      </Box>
      <Suspense>
        {alerting && (
          <AlertForm
            alert={null}
            all={alerts}
            of={{ kind: "companies", companies: [{ id: symbol, symbol, isin, name }] }}
            close={() => alert(false)}
          />
        )}
      </Suspense>
    </Box>
  );
}
