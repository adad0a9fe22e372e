// How a figure moved, and where it stands among the companies of its sector.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useCallback } from "react";
import type { Measure, OwnRange, Schemas, Unit } from "../../api/client";
import { Chart, type ChartOption, timeAxis, tooltip } from "../../charts/Chart";
import { placeInWords, RangeLine } from "../../components/RangeLine";
import { inUnit } from "../../headless/format";
import type { Colours } from "../../theme/colours";

type Better = Measure["better"] | undefined;

export function Past({ standing, better }: { standing: Schemas["FigureStanding"]; better: Better }) {
  const { history, range, unit } = standing;
  const known = history.filter((h) => typeof h.value === "number").length;
  if (known < 2) return null;
  return (
    <>
      <Typography variant="h3" component="h3" sx={{ mt: 2 }}>
        Month by month, from what was known then
      </Typography>
      <Line history={history} unit={unit} />
      {range && (
        <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, fontSize: 13 }}>
          <RangeLine
            range={range}
            unit={unit}
            lowerIsBetter={better === "lower"}
            neutral={better !== "lower" && better !== "higher"}
            width={200}
          />
          <span className="second">{placeInWords(range, better === "lower")}</span>
        </Box>
      )}
    </>
  );
}

function Line({ history, unit }: { history: Schemas["FigurePoint"][]; unit: Unit }) {
  const option = useCallback(
    (c: Colours): ChartOption => {
      const values = history.map((h) => h.value).filter((v) => typeof v === "number");
      const sorted = [...values].sort((a, b) => a - b);
      // One wild month would press the rest into a line.
      const at = (p: number) => sorted[Math.round((sorted.length - 1) * p)] ?? 0;
      const wild = at(1) - at(0) > 4 * (at(0.95) - at(0.05));
      const [lowest, highest] = wild ? [at(0.02), at(0.98)] : [at(0), at(1)];
      const pad = (highest - lowest || Math.abs(at(0.5)) || 1) * 0.12;
      return {
        grid: { left: 52, right: 10, top: 10, bottom: 22 },
        tooltip: { ...tooltip(c), valueFormatter: (v) => (typeof v === "number" ? inUnit(v, unit) : "–") },
        xAxis: timeAxis(c),
        yAxis: {
          type: "value",
          min: lowest - pad,
          max: highest + pad,
          splitNumber: 3,
          axisLabel: {
            color: c.second,
            formatter: (v: number) => inUnit(v, unit),
            showMinLabel: false,
            showMaxLabel: false,
          },
          splitLine: { lineStyle: { color: c.hairline, width: 0.6 } },
        },
        series: [
          {
            type: "line",
            name: "Then",
            showSymbol: false,
            connectNulls: false,
            lineStyle: { color: c.ink, width: 1.4 },
            itemStyle: { color: c.ink },
            data: history.map((h) => [h.date, h.value ?? null]),
          },
        ],
      };
    },
    [history, unit],
  );
  return <Chart label="The figure by month" height={130} option={option} />;
}

/** The same line as for the own past, over the companies of the sector. */
export function Peers({
  peers,
  today,
  unit,
  better,
}: {
  peers: Schemas["PeerPlace"];
  today: number;
  unit: Unit;
  better: Better;
}) {
  const [low = 0, lower_quartile = 0, median = 0, upper_quartile = 0, high = 0] = peers.spread;
  const range: OwnRange = {
    low,
    lower_quartile,
    median,
    upper_quartile,
    high,
    today,
    rank: peers.rank,
    months: peers.count,
  };
  const rank = Math.round(peers.rank);
  const share = rank <= 50 ? 100 - rank : rank;
  const extreme = rank === 0 ? "the lowest of them" : rank === 100 ? "the highest of them" : null;
  const words = extreme ?? `${rank <= 50 ? "lower" : "higher"} than ${share}\u202f% of them`;
  return (
    <>
      <Typography variant="h3" component="h3" sx={{ mt: 1.5 }}>
        Among the {peers.count} of {peers.group}
      </Typography>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, fontSize: 13 }}>
        <RangeLine
          range={range}
          unit={unit}
          lowerIsBetter={better === "lower"}
          neutral={better !== "lower" && better !== "higher"}
          width={200}
        />
        <span className="second">
          {rank} of 100 · {words} · median {inUnit(median, unit)}
        </span>
      </Box>
    </>
  );
}
