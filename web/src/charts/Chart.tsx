// The one charting wrapper: a sized SVG chart in the theme's colours.
import Box from "@mui/material/Box";
import { useColorScheme } from "@mui/material/styles";
import {
  type BarSeriesOption,
  LineChart,
  type LineSeriesOption,
  ScatterChart,
  type ScatterSeriesOption,
} from "echarts/charts";
import {
  GridComponent,
  type GridComponentOption,
  LegendComponent,
  type LegendComponentOption,
  MarkLineComponent,
  type MarkLineComponentOption,
  TooltipComponent,
  type TooltipComponentOption,
} from "echarts/components";
import { type ComposeOption, init, use as register } from "echarts/core";
import "echarts/lib/chart/bar";
import { LabelLayout } from "echarts/features";
import { SVGRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";
import { type Colours, dark, light } from "../theme/colours";

register([
  LineChart,
  ScatterChart,
  GridComponent,
  LegendComponent,
  TooltipComponent,
  MarkLineComponent,
  LabelLayout,
  SVGRenderer,
]);

export type ChartOption = ComposeOption<
  | BarSeriesOption
  | LineSeriesOption
  | ScatterSeriesOption
  | GridComponentOption
  | LegendComponentOption
  | TooltipComponentOption
  | MarkLineComponentOption
>;

interface Props {
  label: string;
  height: number | string;
  option: (c: Colours) => ChartOption;
  /** Told the id of a mark that was clicked. */
  onPick?: (id: string) => void;
}

export function Chart({ label, height, option, onPick }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const { mode, systemMode } = useColorScheme();
  const colours = (mode === "system" ? systemMode : mode) === "dark" ? dark : light;
  useEffect(() => {
    if (!box.current) return;
    const chart = init(box.current, null, { renderer: "svg" });
    chart.setOption({
      animation: false,
      textStyle: { fontFamily: '"IBM Plex Sans", system-ui, sans-serif', fontSize: 12, color: colours.second },
      ...option(colours),
    });
    if (onPick) {
      chart.on("click", (e) => {
        const id = (e.data as { id?: string } | null)?.id;
        if (id) onPick(id);
      });
    }
    const watch = new ResizeObserver(() => chart.resize());
    watch.observe(box.current);
    return () => {
      watch.disconnect();
      chart.dispose();
    };
  }, [option, colours, onPick]);
  return <Box ref={box} role="img" aria-label={label} sx={{ height, width: "100%" }} />;
}

/** A tooltip in the theme's colours. */
export const tooltip = (c: Colours): TooltipComponentOption => ({
  trigger: "axis",
  backgroundColor: c.panel,
  borderColor: c.hairline,
  textStyle: { color: c.ink, fontSize: 12 },
  axisPointer: { lineStyle: { color: c.history } },
});

/** An axis of time in the theme's colours. */
export const timeAxis = (c: Colours) => ({
  type: "time" as const,
  axisLine: { lineStyle: { color: c.history } },
  axisLabel: { color: c.second, hideOverlap: true },
  splitLine: { show: false },
});
