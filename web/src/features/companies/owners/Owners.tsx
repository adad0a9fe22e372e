// Who owns it over time, and what its insiders did with their own money.
import Typography from "@mui/material/Typography";
import { useCallback } from "react";
import type { Schemas } from "../../../api/client";
import { useOwners } from "../../../api/evidence";
import { Chart, type ChartOption, timeAxis, tooltip } from "../../../charts/Chart";
import { Answered } from "../../../components/Answered";
import { useAsOf } from "../../../headless/asOf";
import { day, percent } from "../../../headless/format";
import type { Colours } from "../../../theme/colours";
import { AfterPurchases } from "./AfterPurchases";
import { Trades } from "./Trades";

interface Props {
  symbol: string;
  /** The currency of amounts. */
  base: string;
}

export function Owners({ symbol, base }: Props) {
  const [asOf] = useAsOf();
  return (
    <Answered answer={useOwners(symbol, asOf)} rows={8}>
      {({ stakes, trades, clusters }) => (
        <>
          {stakes.length > 1 && <Stakes stakes={stakes} />}
          {clusters.length > 0 && <Clusters clusters={clusters} />}
          {trades.length > 0 ? (
            <>
              <AfterPurchases symbol={symbol} />
              <Trades trades={trades} base={base} />
            </>
          ) : (
            <Typography variant="body2" color="textSecondary">
              The dataset has no insider trades of this company.
            </Typography>
          )}
        </>
      )}
    </Answered>
  );
}

const HOLDERS = [
  ["insiders", "Insiders", "teal"],
  ["controlling", "Controlling holders", "ink"],
  ["institutions", "Institutions", "faint"],
  ["pledged", "Pledged, of the controlling", "clay"],
] as const;

function Stakes({ stakes }: { stakes: Schemas["StakePoint"][] }) {
  const option = useCallback(
    (c: Colours): ChartOption => {
      const known = HOLDERS.filter(([key]) => stakes.some((s) => s[key] != null && s[key] !== 0));
      return {
        grid: { left: 44, right: 170, top: 8, bottom: 22 },
        tooltip: { ...tooltip(c), valueFormatter: (v) => (typeof v === "number" ? percent(v) : "–") },
        xAxis: timeAxis(c),
        yAxis: {
          type: "value",
          axisLabel: { color: c.second, formatter: (v: number) => percent(v), hideOverlap: true },
          splitNumber: 3,
          splitLine: { lineStyle: { color: c.hairline, width: 0.6 } },
        },
        series: known.map(([key, name, colour]) => ({
          type: "line",
          name,
          step: "end",
          showSymbol: false,
          lineStyle: { color: c[colour], width: 1.5, type: key === "pledged" ? "dashed" : "solid" },
          itemStyle: { color: c[colour] },
          endLabel: { show: true, formatter: name, color: c[colour] },
          labelLayout: { moveOverlap: "shiftY" as const },
          data: stakes.map((s) => [s.as_of, s[key] ?? null]),
        })),
      };
    },
    [stakes],
  );
  return <Chart label="Stakes over time" height={150} option={option} />;
}

/** Clusters that are told of. */
const TOLD = 4;

function Clusters({ clusters }: { clusters: Schemas["Cluster"][] }) {
  const span = ({ from, to, buyers }: Schemas["Cluster"]) => `${buyers} from ${day(from)} to ${day(to)}`;
  const newest = clusters.slice(-TOLD).reverse();
  return (
    <Typography variant="body2" sx={{ my: 0.75 }}>
      <b>Several at once</b> (three or more within 30 days): {newest.map(span).join("; ")}
      {clusters.length > TOLD && `, and ${clusters.length - TOLD} times before`}.
    </Typography>
  );
}
