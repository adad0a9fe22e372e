// Price and the value of each month from what was known then: they part and meet again. Log scale.
import { useCallback } from "react";
import type { Schemas } from "../../api/client";
import { Chart, type ChartOption, timeAxis, tooltip } from "../../charts/Chart";
import { apart } from "../../charts/labels";
import { price as money } from "../../headless/format";
import type { Colours } from "../../theme/colours";

/** Pixels of the picture's height. */
const PLOT = 186;
/** Earnings are drawn at this multiple, so that they lie where the price does. */
const EARNINGS = 15;

type Month = Schemas["MonthPoint"];

interface Props {
  months: Month[];
  /** When it was far under its value, drawn at the foot. */
  episodes: Schemas["EpisodeRow"][];
}

export function PriceValueChart({ months, episodes }: Props) {
  const option = useCallback(
    (c: Colours): ChartOption => {
      // The band may leave the picture: a few valuations near nothing would press price and value together.
      const all = months.flatMap((m) => [m.price, m.value].filter((v) => v != null && v > 0)) as number[];
      const [low, high] = [Math.min(...all) * 0.8, Math.max(...all) * 1.2];
      return {
        grid: { left: 44, right: 64, top: 10, bottom: 24 },
        tooltip: { ...tooltip(c), valueFormatter: (v) => (typeof v === "number" ? money(v) : "–") },
        xAxis: timeAxis(c),
        yAxis: {
          type: "log",
          logBase: 2,
          min: low,
          max: high,
          axisLabel: {
            color: c.second,
            formatter: (v: number) => money(v).replace(/\.00$/, ""),
            showMinLabel: false,
            showMaxLabel: false,
          },
          splitLine: { lineStyle: { color: c.hairline, width: 0.6 } },
        },
        series: [
          ...band(months, c),
          ...episodes.map((e) => footOf(e, months.at(-1)?.date ?? e.from, low * 1.03, c)),
          ...lines(months, [low, high], c),
        ],
      };
    },
    [months, episodes],
  );
  return <Chart label="Price and value by month" height={220} option={option} />;
}

type Series = Exclude<ChartOption["series"], undefined | unknown[]> & { type: "line" };

/** The ends of the middle half of the valuations. */
const band = (months: Month[], c: Colours): Series[] =>
  (["low", "high"] as const).map((end) => ({
    type: "line",
    name: end === "low" ? "A quarter of the valuations below" : "A quarter above",
    step: "end",
    showSymbol: false,
    connectNulls: false,
    lineStyle: { color: c.teal, width: 0.8, opacity: 0.45 },
    itemStyle: { color: c.teal, opacity: 0.45 },
    data: months.map((m) => [m.date, m[end] ?? null]),
  }));

/** An episode at the foot of the picture. */
const footOf = ({ from, met }: Schemas["EpisodeRow"], last: string, at: number, c: Colours): Series => ({
  type: "line",
  name: met ? "Far under value, until it was met" : "Far under value, not met since",
  showSymbol: false,
  silent: true,
  tooltip: { show: false },
  lineStyle: { color: met ? c.teal : c.clay, width: 5, opacity: 0.7 },
  data: [
    [from, at],
    [met ?? last, at],
  ],
});

/** Value, earnings and price, each named at its end where there is room. */
function lines(months: Month[], [low, high]: [number, number], c: Colours): Series[] {
  const all: {
    name: string;
    end: string;
    colour: string;
    ink: string;
    width: number;
    of: (m: Month) => number | null;
  }[] = [
    { name: "Value", end: "value", colour: c.teal, ink: c.teal, width: 2, of: (m) => m.value ?? null },
    {
      name: `Earnings × ${EARNINGS}`,
      end: `EPS × ${EARNINGS}`,
      colour: c.history,
      ink: c.second,
      width: 1.2,
      of: (m) => (m.eps != null && m.eps > 0 ? m.eps * EARNINGS : null),
    },
    { name: "Price", end: "price", colour: c.ink, ink: c.ink, width: 1.3, of: (m) => m.price },
  ];
  const last = months.at(-1);
  const place = (v: number | null) => (v !== null && v > 0 ? (Math.log(high / v) / Math.log(high / low)) * PLOT : -99);
  const moved = apart(all.map(({ of }) => place(last ? of(last) : null)));
  return all.map(({ name, end, colour, ink, width, of }, i) => ({
    type: "line",
    name,
    step: name === "Price" ? false : "end",
    showSymbol: false,
    connectNulls: false,
    lineStyle: { color: colour, width, type: colour === c.history ? "dashed" : "solid" },
    itemStyle: { color: colour },
    endLabel: { show: true, formatter: end, color: ink, offset: [0, moved[i] ?? 0] },
    data: months.map((m) => [m.date, of(m)]),
  }));
}
