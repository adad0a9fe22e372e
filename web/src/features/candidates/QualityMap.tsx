// Each candidate as a mark: quality to the right, margin of safety upwards; who is good and cheap stands top right.
import Box from "@mui/material/Box";
import { useCallback } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { Chart, type ChartOption } from "../../charts/Chart";
import { useAddress } from "../../headless/asOf";
import { numberOf, percent, plain } from "../../headless/format";
import { useMarks } from "../../headless/marks";
import type { Colours } from "../../theme/colours";

type Candidate = Schemas["CandidateRow"];

/** Margins beyond these stand at the edge. */
const EDGES: [number, number] = [-1, 0.8];

/** A shape for each verdict, so that it is read without the colour. */
const SHAPES: Record<string, string> = { "in range": "diamond", close: "triangle", wait: "circle", pass: "rect" };

interface Props {
  rows: Candidate[];
  margin: number;
  least: number;
}

export default function QualityMap({ rows, margin, least }: Props) {
  const navigate = useNavigate();
  const address = useAddress();
  const { marked } = useMarks();
  const option = useCallback(
    (c: Colours): ChartOption => {
      const colour: Record<string, string> = { "in range": c.teal, close: c.brass, wait: c.history, pass: c.clay };
      const at = (of: string) =>
        rows.flatMap((r) => {
          const [x, y] = [numberOf(r.quality), numberOf(r.margin_of_safety)];
          if (r.verdict !== of || x === null || y === null) return [];
          const isMarked = marked.some((m) => m.symbol === r.symbol);
          return [
            {
              value: [x, Math.min(Math.max(y, EDGES[0]), EDGES[1])],
              name: `${r.name} (${r.symbol}): quality ${plain(x, 0)}, ${percent(y)} below value`,
              id: r.symbol,
              label: { show: isMarked || (of === "in range" && r.place <= 5), formatter: r.name, color: c.ink },
            },
          ];
        });
      const named: [string, string][] = [
        ["in range", "In range"],
        ["close", "Close"],
        ["wait", "Wait"],
        ["pass", "Pass"],
      ];
      return {
        grid: { left: 56, right: 24, top: 34, bottom: 40 },
        legend: {
          top: 0,
          right: 24,
          itemWidth: 12,
          itemHeight: 10,
          textStyle: { color: c.second },
          data: named.map((n) => n[1]),
        },
        tooltip: {
          trigger: "item",
          backgroundColor: c.panel,
          borderColor: c.hairline,
          textStyle: { color: c.ink, fontSize: 12 },
          formatter: (p) => (Array.isArray(p) ? "" : String(p.name)),
        },
        xAxis: {
          type: "value",
          min: 0,
          max: 100,
          name: "Quality, of 100",
          nameLocation: "middle",
          nameGap: 26,
          nameTextStyle: { color: c.second },
          axisLabel: { color: c.second },
          axisLine: { onZero: false, lineStyle: { color: c.history } },
          splitLine: { lineStyle: { color: c.hairline, width: 0.6 } },
        },
        yAxis: {
          type: "value",
          min: EDGES[0],
          max: EDGES[1],
          name: "Margin of safety",
          nameTextStyle: { color: c.second },
          axisLabel: { color: c.second, formatter: (v: number) => percent(v) },
          splitLine: { lineStyle: { color: c.hairline, width: 0.6 } },
        },
        series: named.map(([code, words], i) => ({
          type: "scatter" as const,
          name: words,
          symbol: SHAPES[code] ?? "circle",
          symbolSize: code === "in range" ? 10 : 6,
          itemStyle: { color: colour[code] ?? c.history, opacity: code === "in range" ? 0.95 : 0.6 },
          label: { position: "top" as const, fontSize: 11 },
          labelLayout: { hideOverlap: true },
          data: at(code),
          ...(i === 0 && {
            markLine: {
              symbol: "none",
              silent: true,
              lineStyle: { color: c.brass, type: "solid" as const, width: 1 },
              label: {
                color: c.brass,
                position: "insideStartTop" as const,
                formatter: (p: { name: string }) => p.name,
              },
              data: [
                { xAxis: least, name: `least quality ${plain(least, 0)}`, lineStyle: { color: c.brass } },
                { yAxis: margin, name: `margin ${percent(margin)}`, lineStyle: { color: c.brass } },
              ],
            },
          }),
        })),
      };
    },
    [rows, margin, least, marked],
  );
  const open = useCallback((symbol: string) => navigate(address(`/companies/${symbol}`)), [navigate, address]);
  return (
    <Box sx={{ flex: 1, minHeight: 0 }}>
      <Chart label="Quality against margin of safety" height="100%" option={option} onPick={open} />
    </Box>
  );
}
