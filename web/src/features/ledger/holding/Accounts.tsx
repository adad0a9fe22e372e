// The accounts: cash, worth, gain, and what it earned a year.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { Table } from "../../../components/Table";
import { compact, signed } from "../../../headless/format";

export const gain = (x: number) => (
  <span className={x < 0 ? "clay" : "teal"}>{`${x > 0 ? "+" : ""}${compact(x)}`}</span>
);

export function Accounts({ accounts, base }: { accounts: Schemas["AccountRow"][]; base: string }) {
  return (
    <Box component="section" aria-label="Accounts" sx={{ minWidth: 0 }}>
      <Typography variant="h2">Accounts</Typography>
      <Table
        label="Accounts"
        head={["Account", "Cash", "Worth", "Gain", "of it income", "A year", "In all"]}
        rows={accounts.map((a) => ({
          key: a.id,
          cells: [
            <span key="name">
              <b>{a.name}</b>{" "}
              <span className="faint">
                {a.currency}
                {a.by_hand ? " · by hand" : ""}
              </span>
            </span>,
            compact(a.cash),
            <span
              key="worth"
              data-hint={a.index_value_base == null ? undefined : `In the index ${compact(a.index_value_base)} ${base}`}
            >
              {compact(a.value)}
            </span>,
            gain(a.gain),
            a.income === 0 ? "–" : compact(a.income),
            a.xirr == null ? "–" : signed(a.xirr),
            a.time_weighted_return == null ? "–" : signed(a.time_weighted_return),
          ],
        }))}
      />
    </Box>
  );
}
