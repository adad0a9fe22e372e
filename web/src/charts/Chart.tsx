// The one charting wrapper: a sized chart in the theme's colours, drawn when it comes into view.
import Box from "@mui/material/Box";
import type { BarSeriesOption, LineSeriesOption, ScatterSeriesOption } from "echarts/charts";
import type {
  GridComponentOption,
  LegendComponentOption,
  MarkLineComponentOption,
  TooltipComponentOption,
} from "echarts/components";
import type { ComposeOption } from "echarts/core";
import { useEffect, useRef } from "react";
import { useNear } from "../headless/useNear";
import type { Colours } from "../theme/colours";
import { useColours } from "../theme/useColours";

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
  const near = useNear(box);
  const colours = useColours();
  useEffect(() => {
    if (!near) return;
    let gone = false;
    let clear: (() => void) | undefined;
    import("./draw").then(({ draw }) => {
      if (!gone && box.current) clear = draw(box.current, option(colours), colours, onPick);
    });
    return () => {
      gone = true;
      clear?.();
    };
  }, [near, option, colours, onPick]);
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
