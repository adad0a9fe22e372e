// All trades of insiders, grants and sales among them: what the morning's list leaves out.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import Typography from "@mui/material/Typography";
import { parseAsArrayOf, parseAsString, useQueryState } from "nuqs";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import Link from "@mui/material/Link";
import type { Schemas } from "../../api/client";
import { useTrades } from "../../api/following";
import { useAbout } from "../../api/queries";
import { ManyOf } from "../../components/ManyOf";
import { Empty, Failed, LoadingTable } from "../../components/States";
import { Table } from "../../components/Table";
import { text } from "../../headless/address";
import { useAddress, useAsOf } from "../../headless/asOf";
import { compact, day, plain, price, signed } from "../../headless/format";
import { SinceButton } from "./SinceButton";
import { ROLES } from "./InsiderChoice";

const CODES: [string, string][] = [
  ["P", "bought"],
  ["S", "sold"],
  ["A", "granted"],
  ["M", "exercised"],
  ["F", "withheld for tax"],
  ["G", "gifts"],
];
const PAGE = 200;
const list = parseAsArrayOf(parseAsString);

export function TradesPage() {
  const [asOf] = useAsOf();
  const about = useAbout().data;
  const [since] = useQueryState("since", text);
  const [codes, setCodes] = useQueryState("codes", list.withDefault([]));
  const [roles, setRoles] = useQueryState("roles", list.withDefault([]));
  const [offset, setOffset] = useState(0);
  const request = {
    as_of: asOf ?? null,
    since: since || null,
    filter: { roles, countries: [], least: null },
    codes,
    symbol: null,
    offset,
  };
  const { data, error, refetch } = useTrades(request);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  const toggle = (code: string) =>
    void setCodes(codes.includes(code) ? codes.filter((c) => c !== code) : [...codes, code]);
  return (
    <Box sx={{ px: 2.75, pt: 0.5, pb: 4 }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, flexWrap: "wrap" }}>
        <Typography variant="h1">Insiders' trades</Typography>
        <Typography variant="sentence" color="textSecondary" sx={{ flex: 1 }}>
          {data && `${plain(data.count, 0)} filed${since ? ` since ${day(since)}` : " in the last week"}.`}
        </Typography>
        {about?.last_day && <SinceButton since={since || about.last_day} asOf={asOf ?? about.last_day} />}
      </Box>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center", my: 1 }}>
        {CODES.map(([code, name]) => (
          <Chip
            key={code}
            size="small"
            variant={codes.includes(code) ? "filled" : "outlined"}
            label={`${code} ${name} ${data?.by_code[code] ?? 0}`}
            aria-pressed={codes.includes(code)}
            onClick={() => toggle(code)}
          />
        ))}
        <ManyOf
          label="Roles"
          all={Object.fromEntries(ROLES.map(([, name]) => [name, null]))}
          chosen={ROLES.filter(([code]) => roles.includes(code)).map(([, name]) => name)}
          choose={(names) => void setRoles(ROLES.filter(([, n]) => names.includes(n)).map(([code]) => code))}
        />
      </Box>
      {!data ? (
        <LoadingTable />
      ) : data.trades.length === 0 ? (
        <Empty title="No such trade">Choose an earlier day, other codes or other roles.</Empty>
      ) : (
        <Trades trades={data.trades} />
      )}
      {data && data.count > PAGE && (
        <Box sx={{ display: "flex", gap: 1 }}>
          <Button disabled={offset === 0} onClick={() => setOffset(offset - PAGE)}>
            Newer
          </Button>
          <Button disabled={offset + PAGE >= data.count} onClick={() => setOffset(offset + PAGE)}>
            Older
          </Button>
        </Box>
      )}
    </Box>
  );
}

const HEAD = [
  "Filed",
  "Company",
  "Insider",
  "Role",
  "Code",
  "What",
  "Shares",
  "Price",
  "Amount",
  "On what was held",
  "Since",
];

function Trades({ trades }: { trades: Schemas["MarketTrade"][] }) {
  const to = useAddress();
  return (
    <Table
      label="Insiders' trades"
      head={HEAD}
      left={[0, 1, 2, 3, 4, 5]}
      rows={trades.map((t, i) => ({
        key: `${t.symbol} ${t.filed_on} ${i}`,
        quiet: !t.counts,
        cells: [
          day(t.filed_on),
          <Link key="c" component={RouterLink} to={to(`/companies/${t.symbol}`)} sx={{ fontWeight: 600 }}>
            {t.name}
          </Link>,
          t.insider,
          t.role,
          t.code,
          t.what,
          compact(t.shares),
          t.price ? `${price(t.price)} ${t.currency}` : "",
          typeof t.amount.value === "number" ? compact(t.amount.value) : "",
          t.signs.new_holding ? "new" : t.signs.of_holding == null ? "" : signed(t.signs.of_holding),
          t.signs.since == null ? "" : signed(t.signs.since),
        ],
      }))}
    />
  );
}
