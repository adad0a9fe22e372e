// The price of a holding since before it was bought, with each purchase and sale where it was made, and the limits that wait.
import Box from "@mui/material/Box";
import { useRef } from "react";
import type { Schemas } from "../../../api/client";
import { usePriceChart } from "../../../api/evidence";
import { Answered } from "../../../components/Answered";
import { day, plain, price } from "../../../headless/format";
import { useWidth } from "../../../headless/useWidth";
import { tint } from "../../../theme/theme";
import { apart } from "../../../charts/ends";

type Holding = Schemas["HoldingRow"];
type Order = Schemas["OrderRow"];
type Bars = Schemas["PriceAnswer"];

const TALL = 190;
const RIGHT = 108;
const FOOT = 18;
/** Bars shown before the first purchase. */
const BEFORE = 60;

interface Props {
  h: Holding;
  orders: Order[];
  asOf: string;
}

export function TradeChart({ h, orders, asOf }: Props) {
  const answer = usePriceChart(h.symbol, { as_of: asOf, bars: "day", averages: [], bands: null, strength: null });
  return (
    <Box sx={{ my: 1, minHeight: TALL }}>
      <Answered answer={answer} rows={5}>
        {(bars) => <Drawn h={h} orders={orders} bars={bars} />}
      </Answered>
    </Box>
  );
}

type Tone = "teal" | "brass" | "ink";

interface Level {
  p: number;
  label: string;
  tone: Tone;
}

/** What stands beside the price: value and price to pay as far as they are near, limits that wait. */
function levels(h: Holding, orders: Order[], closes: number[]): Level[] {
  const most = 2.2 * Math.max(...closes);
  const level = (p: number | null | undefined, label: string, tone: Tone): Level[] =>
    p == null || p > most ? [] : [{ p, label, tone }];
  const waiting = orders.filter((o) => o.state === "open" || o.state === "partly");
  return [
    ...level(h.intrinsic_value, "value", "teal"),
    ...level(h.buy_below, "to pay", "brass"),
    ...level(closes.at(-1), PRICE, "ink"),
    ...waiting.flatMap((o) => level(o.limit, o.side === "buy" ? "buys at" : "sells at", "brass")),
  ];
}

const PRICE = "price";

function Drawn({ h, orders, bars }: { h: Holding; orders: Order[]; bars: Bars }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box) - RIGHT;
  const bought = bars.dates.findIndex((d) => d >= h.since);
  const from = Math.max(0, (bought < 0 ? bars.dates.length : bought) - BEFORE);
  const [dates, closes] = [bars.dates.slice(from), bars.close.slice(from)];
  // From the listing's currency to the account's, in which lots cost.
  const rate = h.price && h.quantity > 0 ? h.value / h.quantity / h.price : 1;
  const lots = h.lots.map((l) => ({ ...l, at: l.cost / l.quantity / rate }));
  const sold = orders.filter((o) => o.side === "sell" && o.price != null && (o.ended_on ?? "") >= (dates[0] ?? ""));
  const last = closes.at(-1);
  if (dates.length < 2 || last === undefined) return null;
  const lines = levels(h, orders, closes);
  const all = [...closes, ...lots.map((l) => l.at), ...lines.map((l) => l.p)];
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const x = (i: number) => (i / (dates.length - 1)) * width;
  const y = (p: number) => 8 + ((high - p) / (high - low || 1)) * (TALL - 16 - FOOT);
  const place = (date: string) => {
    const i = dates.findIndex((d) => d >= date);
    return x(i < 0 ? dates.length - 1 : i);
  };
  return (
    <Box ref={box}>
      <svg
        role="img"
        aria-label={`Price ${price(last)}, ${lots.length} purchases since ${day(h.since)}`}
        width={width + RIGHT}
        height={TALL}
        style={{ display: "block" }}
      >
        <Levels lines={lines} width={width} y={y} />
        <polyline
          points={closes.map((c, i) => `${x(i).toFixed(1)},${y(c).toFixed(1)}`).join(" ")}
          fill="none"
          stroke={tint("ink")}
          strokeWidth={1.4}
        />
        {lots.map((l, i) => (
          <g key={i} data-hint={`${plain(l.quantity, 0)} bought at ${price(l.at)} on ${day(l.date)}`}>
            <circle cx={place(l.date)} cy={y(l.at)} r={4} fill={tint("panel")} stroke={tint("brass")} strokeWidth={2} />
          </g>
        ))}
        {sold.map((o) => (
          <path
            key={o.order}
            d={`M${place(o.ended_on ?? "")},${y(o.price ?? 0) + 5} l-5,-9 h10 z`}
            fill={tint("clay")}
            data-hint={`${plain(o.filled, 0)} sold at ${price(o.price ?? 0)} on ${day(o.ended_on ?? "")}`}
          />
        ))}
        <text x={0} y={TALL - 3} fontSize={11} fill={tint("second")}>
          {day(dates[0] ?? "")}
        </text>
        <text x={width} y={TALL - 3} textAnchor="end" fontSize={11} fill={tint("second")}>
          {day(dates.at(-1) ?? "")}
        </text>
      </svg>
    </Box>
  );
}

/** Lines across with their names at the right. */
function Levels({ lines, width, y }: { lines: Level[]; width: number; y: (p: number) => number }) {
  const labels = apart(lines.map((l) => ({ ...l, at: y(l.p) })));
  return (
    <>
      {lines
        .filter((l) => l.label !== PRICE)
        .map((l) => (
          <line
            key={`${l.label} ${l.p}`}
            x1={0}
            x2={width}
            y1={y(l.p)}
            y2={y(l.p)}
            stroke={tint(l.tone)}
            strokeDasharray={l.label.endsWith("at") ? "4 4" : undefined}
          />
        ))}
      {labels.map((l) => (
        <text key={`${l.label} ${l.p}`} x={width + 6} y={l.at + 4} fontSize={11.5} fill={tint(l.tone)}>
          {l.label} {price(l.p)}
        </text>
      ))}
    </>
  );
}
