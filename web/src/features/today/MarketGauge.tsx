// The market against its own past: one sentence, and five series with where today stands.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { useGauge } from "../../api/following";
import { Sparkline } from "../../components/Sparkline";
import { percent, plain } from "../../headless/format";
import { tint } from "../../theme/theme";
import { Heading } from "./Section";

type Point = Schemas["GaugePoint"];

interface Series {
  label: string;
  of: (p: Point) => number | null | undefined;
  written: (x: number) => string;
  level?: number;
}

const SERIES: Series[] = [
  { label: "Median price to value", of: (p) => p.median_price_to_value, written: (x) => plain(x, 2), level: 1 },
  { label: "Priced under their value", of: (p) => p.share_under_value, written: percent },
  { label: "Median P/E", of: (p) => p.median_pe, written: (x) => plain(x, 1) },
  { label: "Above their 200-day average", of: (p) => p.share_above_sma200, written: percent },
  { label: "New lows of the year", of: (p) => p.new_52w_lows, written: (x) => plain(x, 0) },
];

/** Of how many of the months today is higher, of 100. */
function rank(values: number[]): number | null {
  const today = values.at(-1);
  if (today === undefined || values.length < 13) return null;
  const less = values.filter((v) => v < today).length;
  const equal = values.filter((v) => v === today).length;
  return (100 * (less + (equal - 1) / 2)) / (values.length - 1);
}

export function MarketGauge({ asOf }: { asOf: string | undefined }) {
  const { data, error } = useGauge(asOf);
  return (
    <Box component="section" aria-label="The market against its own past" sx={{ mb: 3 }}>
      <Heading title="The market against its own past" />
      {error && <Typography color="error">{error.message}</Typography>}
      {data && (
        <>
          <Typography variant="sentence" sx={{ py: 1 }}>
            {data.sentence}
          </Typography>
          {SERIES.map((s) => (
            <Row key={s.label} series={s} months={data.months} />
          ))}
          <Years months={data.months} left={data.left} />
        </>
      )}
    </Box>
  );
}

function Row({ series, months }: { series: Series; months: Point[] }) {
  const values = months.map(series.of);
  const known = values.filter((v): v is number => typeof v === "number");
  const today = known.at(-1);
  const place = rank(known);
  return (
    <Box
      data-hint={place === null ? undefined : `Higher than in ${plain(place, 0)} of 100 months of the last ten years`}
      sx={{
        display: "grid",
        gridTemplateColumns: "1fr 110px 52px 44px",
        alignItems: "center",
        gap: 1,
        py: 0.25,
        borderBottom: `1px solid ${tint("hairline")}`,
        fontSize: 13,
      }}
    >
      <span className="second">{series.label}</span>
      <Sparkline
        values={values}
        width={110}
        height={28}
        label={`${series.label}, month by month`}
        {...(series.level !== undefined && { level: series.level })}
      />
      <b className="right">{today === undefined ? "–" : series.written(today)}</b>
      <span className="faint right small">{place === null ? "" : `${plain(place, 0)} of 100`}</span>
    </Box>
  );
}

function Years({ months, left }: { months: Point[]; left: number }) {
  const [first, last] = [months[0], months.at(-1)];
  if (!first || !last) return null;
  return (
    <Typography variant="caption" color="textDisabled" component="p" role="status" sx={{ mt: 0.5 }}>
      {left > 0
        ? `${months.length} months are worked out, ${left} to come.`
        : `Month by month from ${first.date.slice(0, 4)} to ${last.date.slice(0, 4)}; beside it where today stands.`}
    </Typography>
  );
}
