// The one charting wrapper: a sized SVG chart in the theme's colours.
import Box from "@mui/material/Box";
import { useColorScheme } from "@mui/material/styles";
import { type BarSeriesOption, LineChart, type LineSeriesOption } from "echarts/charts";
import {
  GridComponent,
  type GridComponentOption,
  MarkLineComponent,
  type MarkLineComponentOption,
  TooltipComponent,
  type TooltipComponentOption,
} from "echarts/components";
import { type ComposeOption, init, use as register } from "echarts/core";
import "echarts/lib/chart/bar";
import { SVGRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";
import { type Colours, dark, light } from "../theme/colours";

register([LineChart, GridComponent, TooltipComponent, MarkLineComponent, SVGRenderer]);

export type ChartOption = ComposeOption<
  BarSeriesOption | LineSeriesOption | GridComponentOption | TooltipComponentOption | MarkLineComponentOption
>;

interface Props {
  label: string;
  height: number;
  option: (c: Colours) => ChartOption;
}

export function Chart({ label, height, option }: Props) {
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
    const watch = new ResizeObserver(() => chart.resize());
    watch.observe(box.current);
    return () => {
      watch.disconnect();
      chart.dispose();
    };
  }, [option, colours]);
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
