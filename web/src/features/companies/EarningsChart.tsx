// Earnings per share by fiscal year; the years that are estimated set apart by a dashed outline.
import { useCallback } from "react";
import type { Schemas } from "../../api/client";
import { Chart, type ChartOption, tooltip } from "../../charts/Chart";
import { numberOf, plain } from "../../headless/format";
import type { Colours } from "../../theme/colours";

export function EarningsChart({ years }: { years: Schemas["YearRow"][] }) {
  const option = useCallback(
    (c: Colours): ChartOption => {
      const rows = [...years].reverse().filter((y) => numberOf(y.eps) !== null);
      return {
        grid: { left: 4, right: 4, top: 22, bottom: 34 },
        tooltip: { ...tooltip(c), valueFormatter: (v) => plain(Number(v), 2) },
        xAxis: {
          type: "category",
          data: rows.map((y) => (y.estimated ? `${y.fiscal_year}\nest.` : String(y.fiscal_year))),
          axisLine: { lineStyle: { color: c.history } },
          axisTick: { show: false },
          axisLabel: { color: c.second, interval: 0, lineHeight: 14 },
        },
        yAxis: { type: "value", show: false },
        series: [
          {
            type: "bar",
            name: "Earnings per share",
            barMaxWidth: 40,
            data: rows.map((y) => {
              const value = numberOf(y.eps) ?? 0;
              return {
                value,
                itemStyle: y.estimated
                  ? { color: "transparent", borderColor: c.bar, borderType: "dashed" as const, borderWidth: 1.2 }
                  : { color: value < 0 ? c.clay : c.bar },
                label: { position: value < 0 ? ("bottom" as const) : ("top" as const) },
              };
            }),
            label: {
              show: true,
              color: c.ink,
              fontWeight: 600,
              formatter: (p) => plain(Number((p.data as { value: number }).value), 2),
            },
          },
        ],
      };
    },
    [years],
  );
  return <Chart label="Earnings per share by fiscal year" height={150} option={option} />;
}
