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

interface Props {
  months: Schemas["MonthPoint"][];
  /** When it was far under its value, drawn at the foot. */
  episodes: Schemas["EpisodeRow"][];
}

export function PriceValueChart({ months, episodes }: Props) {
  const option = useCallback(
    (c: Colours): ChartOption => {
      // The band may leave the picture: a few valuations near nothing would press price and value together.
      const all = months.flatMap((m) => [m.price, m.value].filter((v) => v != null && v > 0)) as number[];
      const [low, high] = [Math.min(...all) * 0.8, Math.max(...all) * 1.2];
      const ends = [months.at(-1)?.price, months.at(-1)?.value, (months.at(-1)?.eps ?? 0) * EARNINGS];
      const place = (v: number | null | undefined) =>
        v != null && v > 0 ? (Math.log(high / v) / Math.log(high / low)) * PLOT : -99;
      const [atPrice = 0, atValue = 0, atEarnings = 0] = apart(ends.map(place));
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
          ...(["low", "high"] as const).map((end) => ({
            type: "line" as const,
            name: end === "low" ? "A quarter of the valuations below" : "A quarter above",
            step: "end" as const,
            showSymbol: false,
            connectNulls: false,
            lineStyle: { color: c.teal, width: 0.8, opacity: 0.45 },
            itemStyle: { color: c.teal, opacity: 0.45 },
            data: months.map((m) => [m.date, m[end] ?? null]),
          })),
          ...episodes.map(({ from, met }) => ({
            type: "line" as const,
            name: met ? "Far under value, until it was met" : "Far under value, not met since",
            showSymbol: false,
            silent: true,
            tooltip: { show: false },
            lineStyle: { color: met ? c.teal : c.clay, width: 5, opacity: 0.7 },
            data: [
              [from, low * 1.03],
              [met ?? months.at(-1)?.date ?? from, low * 1.03],
            ] as [string, number][],
          })),
          {
            type: "line",
            name: "Value",
            step: "end",
            showSymbol: false,
            connectNulls: false,
            lineStyle: { color: c.teal, width: 2 },
            itemStyle: { color: c.teal },
            endLabel: { show: true, formatter: "value", color: c.teal, offset: [0, atValue] },
            data: months.map((m) => [m.date, m.value ?? null]),
          },
          {
            type: "line",
            name: `Earnings × ${EARNINGS}`,
            step: "end",
            showSymbol: false,
            connectNulls: false,
            lineStyle: { color: c.history, width: 1.2, type: "dashed" },
            itemStyle: { color: c.history },
            endLabel: {
              show: true,
              formatter: `EPS × ${EARNINGS}`,
              color: c.second,
              fontSize: 11,
              offset: [0, atEarnings],
            },
            data: months.map((m) => [m.date, m.eps != null && m.eps > 0 ? m.eps * EARNINGS : null]),
          },
          {
            type: "line",
            name: "Price",
            showSymbol: false,
            lineStyle: { color: c.ink, width: 1.3 },
            itemStyle: { color: c.ink },
            endLabel: { show: true, formatter: "price", color: c.ink, offset: [0, atPrice] },
            data: months.map((m) => [m.date, m.price]),
          },
        ],
      };
    },
    [months, episodes],
  );
  return <Chart label="Price and value by month" height={220} option={option} />;
}
