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

/** The verdicts shown, in the order of the legend. */
const NAMED: [string, string][] = [
  ["in range", "In range"],
  ["close", "Close"],
  ["wait", "Wait"],
  ["pass", "Pass"],
];

/** What a letter takes of the quality axis and a line of the margin axis, on a screen of usual width. */
const LETTER = 0.55;
const LINE = 0.05;

/** How many of the best are named without being asked. */
const NAMED_BEST = 5;

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
      const isMarked = (r: Candidate) => marked.some((m) => m.symbol === r.symbol);
      const best = rows.filter((r) => r.verdict === "in range" && r.place <= NAMED_BEST);
      const named = withRoom([...rows.filter(isMarked), ...best]);
      return {
        ...frame(c),
        series: NAMED.map(([code, words], i) => ({
          ...marks(code, words, c),
          data: rows.filter((r) => r.verdict === code).flatMap((r) => point(r, named.has(r.symbol), c)),
          ...(i === 0 && { markLine: bounds(margin, least, c) }),
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

/** Of those to be named, the symbols of those whose names do not run into one before them. */
function withRoom(wanted: Candidate[]): Set<string> {
  const kept: Candidate[] = [];
  const apart = (a: Candidate, b: Candidate) => {
    const letters = (a.name.length + b.name.length) / 2;
    const across = Math.abs((numberOf(a.quality) ?? 0) - (numberOf(b.quality) ?? 0));
    const down = Math.abs((numberOf(a.margin_of_safety) ?? 0) - (numberOf(b.margin_of_safety) ?? 0));
    return across > letters * LETTER || down > LINE;
  };
  for (const r of wanted) if (kept.every((k) => apart(k, r))) kept.push(r);
  return new Set(kept.map((r) => r.symbol));
}

/** Where a candidate stands; nowhere without quality or margin. */
function point(r: Candidate, isNamed: boolean, c: Colours) {
  const [x, y] = [numberOf(r.quality), numberOf(r.margin_of_safety)];
  if (x === null || y === null) return [];
  return [
    {
      value: [x, Math.min(Math.max(y, EDGES[0]), EDGES[1])],
      name: `${r.name} (${r.symbol}): quality ${plain(x, 0)}, ${percent(y)} below value`,
      id: r.symbol,
      label: { show: isNamed, formatter: r.name, color: c.ink },
    },
  ];
}

function marks(code: string, words: string, c: Colours) {
  const colour: Record<string, string> = { "in range": c.teal, close: c.brass, wait: c.history, pass: c.clay };
  const best = code === "in range";
  return {
    type: "scatter" as const,
    name: words,
    symbol: SHAPES[code] ?? "circle",
    symbolSize: best ? 10 : 6,
    itemStyle: { color: colour[code] ?? c.history, opacity: best ? 0.95 : 0.6 },
    label: { position: "top" as const, fontSize: 11 },
  };
}

/** The user's own bounds, in the colour of what is the user's. */
function bounds(margin: number, least: number, c: Colours) {
  return {
    symbol: "none",
    silent: true,
    lineStyle: { color: c.brass, type: "solid" as const, width: 1 },
    label: { color: c.brass, position: "insideStartTop" as const, formatter: (p: { name: string }) => p.name },
    data: [
      { xAxis: least, name: `minimum quality ${plain(least, 0)}`, lineStyle: { color: c.brass } },
      { yAxis: margin, name: `margin ${percent(margin)}`, lineStyle: { color: c.brass } },
    ],
  };
}

/** Axes, legend and what a mark says when pointed at. */
function frame(c: Colours): ChartOption {
  const axis = {
    type: "value" as const,
    nameTextStyle: { color: c.second },
    splitLine: { lineStyle: { color: c.hairline, width: 0.6 } },
  };
  return {
    grid: { left: 56, right: 24, top: 34, bottom: 40 },
    legend: {
      top: 0,
      right: 24,
      itemWidth: 12,
      itemHeight: 10,
      textStyle: { color: c.second },
      data: NAMED.map((n) => n[1]),
    },
    tooltip: {
      trigger: "item",
      backgroundColor: c.panel,
      borderColor: c.hairline,
      textStyle: { color: c.ink, fontSize: 12 },
      formatter: (p) => (Array.isArray(p) ? "" : String(p.name)),
    },
    xAxis: {
      ...axis,
      min: 0,
      max: 100,
      name: "Quality, of 100",
      nameLocation: "middle",
      nameGap: 26,
      axisLabel: { color: c.second },
      axisLine: { onZero: false, lineStyle: { color: c.history } },
    },
    yAxis: {
      ...axis,
      min: EDGES[0],
      max: EDGES[1],
      name: "Margin of safety",
      axisLabel: { color: c.second, formatter: (v: number) => percent(v) },
    },
  };
}
