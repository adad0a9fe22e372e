// Figures by period as bars with their values; those that are estimated set apart by a dashed outline.
import { useCallback } from "react";
import { inUnit } from "../headless/format";
import type { Unit } from "../api/client";
import type { Colours } from "../theme/colours";
import { Chart, type ChartOption, tooltip } from "./Chart";

export interface Bar {
  label: string;
  value: number;
  estimated?: boolean;
}

interface Props {
  label: string;
  /** What a bar is, in the tooltip. */
  name: string;
  unit: Unit;
  /** From left to right. */
  bars: Bar[];
}

/** Bars that have room for their values. */
const ROOMY = 16;

export function Bars({ label, name, unit, bars }: Props) {
  const option = useCallback(
    (c: Colours): ChartOption => ({
      grid: { left: 4, right: 4, top: 22, bottom: 34 },
      tooltip: { ...tooltip(c), valueFormatter: (v) => inUnit(Number(v), unit) },
      xAxis: {
        type: "category",
        data: bars.map((b) => b.label),
        axisLine: { lineStyle: { color: c.history }, onZero: true },
        axisTick: { show: false },
        axisLabel: { color: c.second, lineHeight: 14, hideOverlap: true, ...(bars.length <= ROOMY && { interval: 0 }) },
      },
      yAxis: { type: "value", show: false },
      series: [
        {
          type: "bar",
          name,
          barMaxWidth: 40,
          data: bars.map(({ value, estimated }) => ({
            value,
            itemStyle: estimated
              ? { color: "transparent", borderColor: c.bar, borderType: "dashed" as const, borderWidth: 1.2 }
              : { color: value < 0 ? c.clay : c.bar },
            label: { position: value < 0 ? ("bottom" as const) : ("top" as const) },
          })),
          label: {
            show: bars.length <= ROOMY,
            color: c.ink,
            fontWeight: 600,
            formatter: (p) => inUnit(Number((p.data as { value: number }).value), unit),
          },
        },
      ],
    }),
    [name, unit, bars],
  );
  return <Chart label={label} height={150} option={option} />;
}
