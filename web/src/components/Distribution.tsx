// How a formula is distributed over the listed companies today.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas, Unit } from "../api/client";
import { useDistribution } from "../api/queries";
import { useAsOf } from "../headless/asOf";
import { inUnit } from "../headless/format";
import { tint } from "../theme/theme";

interface Props {
  formula: string | null;
  /** Pixels of the drawing. */
  width?: number;
  height?: number;
  /** The drawing alone. */
  brief?: boolean;
}

export function Distribution({ formula, width = 560, height = 92, brief = false }: Props) {
  const [asOf] = useAsOf();
  const { data, error } = useDistribution(formula, asOf);
  if (error) return null; // the mistake stands beside the formula
  if (!data) return <Box sx={{ height: brief ? height : height + 50 }} />;
  const all = data.defined + data.undefined;
  return (
    <Box sx={{ mt: brief ? 0.5 : 2 }} data-testid="distribution">
      {data.histogram && data.percentiles && (
        <Bars
          unit={data.unit}
          histogram={data.histogram}
          percentiles={data.percentiles}
          width={width}
          height={height}
          brief={brief}
        />
      )}
      {!data.histogram && !brief && <Counts counts={data.counts} all={all} />}
      <Typography variant={brief ? "caption" : "body2"} component="p" color="textSecondary">
        Defined for {data.defined} of {all} listed companies, funds left out.
      </Typography>
    </Box>
  );
}

/** As large as it was drawn, or as there is room. */
const WITHIN = { display: "block", maxWidth: "100%", height: "auto" };

interface BarsProps extends Required<Omit<Props, "formula">> {
  unit: Unit;
  histogram: Schemas["Histogram"];
  percentiles: number[];
}

function Bars({ unit, histogram, percentiles, width, height, brief }: BarsProps) {
  const { low, high, counts } = histogram;
  const most = Math.max(...counts, 1);
  const step = width / counts.length;
  const x = (v: number) => ((Math.min(Math.max(v, low), high) - low) / (high - low)) * width;
  const [p10 = 0, p25 = 0, p50 = 0, p75 = 0, p90 = 0] = percentiles;
  const show = (v: number) => inUnit(v, unit);
  const words = `A tenth below ${show(p10)}, a quarter below ${show(p25)}, half below ${show(p50)}, a quarter above ${show(p75)}, a tenth above ${show(p90)}.`;
  return (
    <>
      <svg viewBox={`0 0 ${width} ${height}`} width={width} role="img" aria-label={words} style={WITHIN}>
        <rect x={x(p25)} width={Math.max(x(p75) - x(p25), 1)} y={0} height={height - 18} fill={tint("tray")} />
        {counts.map((n, i) => {
          const tall = n === 0 ? 0 : Math.max((n / most) * (height - 24), 1.5);
          return (
            <rect
              key={i}
              x={i * step}
              width={Math.max(step - 1, 1)}
              y={height - 18 - tall}
              height={tall}
              fill={tint("bar")}
            />
          );
        })}
        <line x1={0} x2={width} y1={height - 17.5} y2={height - 17.5} stroke={tint("history")} />
        <line x1={x(p50)} x2={x(p50)} y1={0} y2={height - 18} stroke={tint("ink")} strokeDasharray="3 2" />
        <text x={0} y={height - 4} fontSize={11} fill={tint("second")}>
          {show(low)}
        </text>
        <text x={width} y={height - 4} fontSize={11} fill={tint("second")} textAnchor="end">
          {show(high)}
        </text>
        <text
          x={Math.min(Math.max(x(p50), 70), width - 90)}
          y={height - 4}
          fontSize={11}
          fill={tint("ink")}
          textAnchor="middle"
        >
          median {show(p50)}
        </text>
      </svg>
      {!brief && (
        <Typography variant="body2" sx={{ mt: 0.5 }}>
          {words}
        </Typography>
      )}
    </>
  );
}

function Counts({ counts, all }: { counts: Record<string, number>; all: number }) {
  const sorted = Object.entries(counts).sort((a, b) => b[1] - a[1]);
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "200px 240px 60px", rowGap: 0.5, fontSize: 13, mb: 0.5 }}>
      {sorted.slice(0, 12).map(([value, n]) => (
        <Box key={value} sx={{ display: "contents" }}>
          <span>{value === "true" ? "yes" : value === "false" ? "no" : value}</span>
          <svg width={240} height={14} aria-hidden>
            <rect width={Math.max((n / all) * 240, 1)} height={12} y={1} fill={tint("bar")} />
          </svg>
          <span className="right strong">{n}</span>
        </Box>
      ))}
      {sorted.length > 12 && <span className="second">and {sorted.length - 12} more</span>}
    </Box>
  );
}
