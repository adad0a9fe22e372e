// The library that draws, with the parts of it that are used: large, so it is loaded when the first chart comes into view.
import { LineChart, ScatterChart } from "echarts/charts";
import { GridComponent, LegendComponent, MarkLineComponent, TooltipComponent } from "echarts/components";
import { init, use as register } from "echarts/core";
import "echarts/lib/chart/bar";
import { LabelLayout } from "echarts/features";
import { SVGRenderer } from "echarts/renderers";
import type { Colours } from "../theme/colours";
import type { ChartOption } from "./Chart";

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

/** Draws a chart that keeps the size of its box; returns what takes it away. */
export function draw(
  box: HTMLElement,
  option: ChartOption,
  colours: Colours,
  onPick: ((id: string) => void) | undefined,
): () => void {
  const chart = init(box, null, { renderer: "svg" });
  chart.setOption({
    animation: false,
    textStyle: { fontFamily: '"IBM Plex Sans", system-ui, sans-serif', fontSize: 12, color: colours.second },
    ...option,
  });
  if (onPick) {
    chart.on("click", (e) => {
      const id = (e.data as { id?: string } | null)?.id;
      if (id) onPick(id);
    });
  }
  const watch = new ResizeObserver(() => chart.resize());
  watch.observe(box);
  return () => {
    watch.disconnect();
    chart.dispose();
  };
}
