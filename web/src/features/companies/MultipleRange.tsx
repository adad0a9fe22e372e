// Twelve months ahead: the earnings expected, at what the market paid in the last years; any of the prices can be typed over.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { FigureCell } from "../../components/FigureCell";
import { NumberField } from "../../components/NumberField";
import { numberOf, percent, plain, price } from "../../headless/format";
import { Table } from "../../components/Table";

export function MultipleRange({ value }: { value: Schemas["ValueAnswer"] }) {
  const { range: r, currency } = value;
  const now = numberOf(value.price);
  const target = numberOf(r.target_upside);
  const ends: [string, number | null][] = [
    ["At the lowest P/E", numberOf(r.downside)],
    ["At the usual P/E", numberOf(r.middle)],
    ["At a usual high P/E", numberOf(r.upside)],
    ["Analysts' target", target === null || now === null ? null : now * (1 + target)],
  ];
  if (r.years.length === 0) return null;
  return (
    <Box sx={{ mt: 2 }}>
      <Typography variant="h3">Twelve months ahead</Typography>
      <Typography variant="body2" color="textSecondary">
        Expected earnings of the year in progress,{" "}
        <b className="ink">
          <FigureCell figure={r.expected_earnings} unit="per_share" />
        </b>{" "}
        {currency} a share, at what the market paid; today it pays <FigureCell figure={r.pe} unit="ratio" />. The
        estimate is of adjusted earnings, the multiples are of reported ones.
      </Typography>
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", mt: 1.25 }}>
        {ends.map(([label, found]) => (
          <End key={label} label={label} found={found} now={now} currency={currency} />
        ))}
      </Box>
      <Table
        label="What the market paid year by year"
        head={["Fiscal year", "Lowest price", "Highest price", "Low to high", "P/E at the low", "P/E at the high"]}
        rows={[
          today(r, now),
          ...r.years.map((y) => ({
            key: String(y.fiscal_year),
            cells: [
              String(y.fiscal_year),
              price(y.low_price),
              price(y.high_price),
              percent(y.rise),
              plain(y.low_pe, 1),
              plain(y.high_pe, 1),
            ],
          })),
        ]}
      />
    </Box>
  );
}

/** Today's price and multiple, beside the years. */
const today = (r: Schemas["MultipleRange"], now: number | null) => ({
  key: "today",
  cells: [
    <b key="label">Today</b>,
    <b key="price">{now === null ? "–" : price(now)}</b>,
    "",
    "",
    <b key="pe">
      <FigureCell figure={r.pe} unit="ratio" />
    </b>,
    "",
  ],
});

interface EndProps {
  label: string;
  found: number | null;
  now: number | null;
  currency: string;
}

function End({ label, found, now, currency }: EndProps) {
  const [typed, setTyped] = useState<number | null>(null);
  const shown = typed ?? found;
  return (
    <Box>
      <NumberField
        label={label}
        unit={currency}
        value={typed}
        otherwise={found === null ? "not known" : price(found)}
        set={setTyped}
        width={158}
      />
      <Typography variant="body2" color="textSecondary" sx={{ textAlign: "right", pr: 1 }}>
        {shown !== null && now ? `${shown >= now ? "+" : ""}${percent(shown / now - 1)}` : ""}
      </Typography>
    </Box>
  );
}
