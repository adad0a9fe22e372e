// What the price says: bars over the value band with the log under them. What is shown are words of a sentence, each a choice.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import type { Schemas } from "../../../api/client";
import { usePriceChart, useStretch } from "../../../api/evidence";
import { Answered } from "../../../components/Answered";
import { NumberField } from "../../../components/NumberField";
import { among, WordChoice } from "../../../components/WordChoice";
import { useAsOf } from "../../../headless/asOf";
import { day, numberOf, price as money } from "../../../headless/format";
import { BAR_NAMES, BARS, LANES, SPAN_NAMES, SPANS, type Span, usePriceChoices, usual } from "./choices";
import type { Price } from "./frame";
import { LEVELS } from "./paint";
import { PriceCanvas } from "./PriceCanvas";

interface Props {
  symbol: string;
  months: Schemas["MonthPoint"][];
  value: Schemas["ValueAnswer"];
}

export default function PriceSection({ symbol, months, value }: Props) {
  const [asOf] = useAsOf();
  const [{ bars, averages, bands, strength }] = usePriceChoices();
  const answer = usePriceChart(symbol, {
    bars,
    averages: averages ?? usual[bars],
    bands: bands || null,
    strength: strength || null,
    ...(asOf && { as_of: asOf }),
  });
  return (
    <Answered answer={answer} rows={12}>
      {(price) =>
        price.dates.length > 1 ? (
          <Shown price={price} symbol={symbol} months={months} value={value} />
        ) : (
          <Typography variant="body2" color="textSecondary">
            No prices are known on this date.
          </Typography>
        )
      }
    </Answered>
  );
}

function Shown({ price, symbol, months, value }: Props & { price: Price }) {
  const [asOf] = useAsOf();
  const [{ span, against, folded }] = usePriceChoices();
  const [measured, measure] = useState<[string, string] | null>(null);
  const lanes = useMemo(() => LANES.filter((lane) => !folded.includes(lane)), [folded]);
  const ends: [string, string] | null = measured && measured[0] !== measured[1] ? measured : null;
  const stretch = useStretch(symbol, ends, asOf);
  const [limit, worth] = [numberOf(value.buy_below), numberOf(value.intrinsic_value)];
  return (
    <>
      <Choices price={price} />
      <Periods />
      <PriceCanvas
        symbol={symbol}
        price={price}
        months={months}
        paid={limit !== null && worth !== null && worth > 0 ? limit / worth : null}
        against={against === "index"}
        lanes={lanes}
        span={SPANS[span]}
        measured={measured}
        measure={measure}
      />
      <Box role="status" sx={{ minHeight: 24, display: "flex", gap: 1, alignItems: "baseline" }}>
        {ends && stretch.data ? (
          <>
            <Typography variant="sentence">{stretch.data.sentence}</Typography>
            <Button onClick={() => measure(null)}>Forget it</Button>
          </>
        ) : (
          <Typography variant="caption" color="textSecondary">
            Drag over the price to measure, below it to move; Ctrl with the wheel, + and − zoom. {legend(price)}
          </Typography>
        )}
      </Box>
      <Zones price={price} />
    </>
  );
}

const legend = (price: Price): string =>
  [
    "Teal: value with the middle half of the valuations; brass: what you would pay.",
    price.averages.length > 0 && `Averages of ${price.averages.map((a) => a.bars).join(" and ")} bars.`,
  ]
    .filter(Boolean)
    .join(" ");

const BAND_CHOICES = [0, 20, 50];
const STRENGTH_CHOICES = [0, 7, 14, 21];

function Choices({ price }: { price: Price }) {
  const [{ bars, span, averages, bands, strength, against, folded }, choose] = usePriceChoices();
  const pairs = [usual[bars], [20, 50], [50, 200], [10, 40], [6, 12], []];
  const told = (of: number[]) => (of.length === 0 ? "no averages" : `averages of ${of.join(" and ")}`);
  const chosen = told(averages ?? usual[bars]);
  const different = pairs.filter((pair, i) => pairs.findIndex((p) => told(p) === told(pair)) === i);
  const banded = (of: number) => (of === 0 ? "no bands" : `bands around ${of} bars`);
  const strong = (of: number) => (of === 0 ? "no strength" : `strength over ${of} bars`);
  const compared = (of: "index" | "nothing") => (of === "index" ? (price.index?.name ?? "its index") : "nothing");
  return (
    <Typography variant="sentence" component="div">
      <WordChoice
        means="Bars"
        word={`${BAR_NAMES[bars]} bars`}
        items={among(
          BARS,
          bars,
          (of) => `${BAR_NAMES[of]} bars`,
          (of) => void choose({ bars: of, averages: null }),
        )}
      />{" "}
      over{" "}
      <WordChoice
        means="Span"
        word={SPAN_NAMES[span]}
        items={among(
          Object.keys(SPANS) as Span[],
          span,
          (of) => SPAN_NAMES[of],
          (of) => void choose({ span: of }),
        )}
      />
      {price.index && (
        <>
          , against{" "}
          <WordChoice
            means="Compared with"
            word={compared(against)}
            items={among(["nothing", "index"] as const, against, compared, (of) => void choose({ against: of }))}
          />
        </>
      )}
      , with{" "}
      <WordChoice
        means="Averages"
        word={chosen}
        items={different.map((pair) => ({
          label: told(pair),
          chosen: told(pair) === chosen,
          run: () => void choose({ averages: pair }),
        }))}
      />
      ,{" "}
      <WordChoice
        means="Bands"
        word={banded(bands)}
        items={among(BAND_CHOICES, bands, banded, (of) => void choose({ bands: of }))}
      />
      ,{" "}
      <WordChoice
        means="Strength"
        word={strong(strength)}
        items={among(STRENGTH_CHOICES, strength, strong, (of) => void choose({ strength: of }))}
      />{" "}
      and{" "}
      <WordChoice
        means="Log"
        word={folded.length === 0 ? "all of the log" : folded.length === LANES.length ? "no log" : "part of the log"}
        items={LANES.map((lane) => ({
          label: `${lane[0]?.toUpperCase()}${lane.slice(1)}`,
          chosen: !folded.includes(lane),
          run: () =>
            void choose({ folded: folded.includes(lane) ? folded.filter((f) => f !== lane) : [...folded, lane] }),
        }))}
      />
    </Typography>
  );
}

/** Gaps told of, the newest. */
const TOLD = 3;

/** Over how many bars the lines are made: any number. */
function Periods() {
  const [{ bars, averages, bands, strength }, choose] = usePriceChoices();
  const lengths = averages ?? usual[bars];
  if (lengths.length === 0 && bands === 0 && strength === 0) return null;
  const field = (label: string, value: number, set: (to: number) => void) => (
    <NumberField
      key={label}
      bare
      label={label}
      of="count"
      value={value}
      set={(to) => to !== null && to >= 2 && set(Math.round(to))}
      width={78}
      whenDone
    />
  );
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "baseline", fontSize: 13, color: "text.secondary" }}>
      Bars of each line:
      {lengths.map((n, i) =>
        field(
          `Average ${i + 1}, bars`,
          n,
          (to) => void choose({ averages: lengths.map((old, at) => (at === i ? to : old)) }),
        ),
      )}
      {bands > 0 && field("Bands, bars", bands, (to) => void choose({ bands: to }))}
      {strength > 0 && field("Strength, bars", strength, (to) => void choose({ strength: to }))}
    </Box>
  );
}

/** The zones in words: what the picture shows by dashes and hatching. */
function Zones({ price: { zones, currency } }: { price: Price }) {
  const level = ({ level, touches }: Schemas["PriceLevel"]) => `${money(level)} (${touches})`;
  const parts = [
    zones.support.length > 0 && `support at ${zones.support.slice(-LEVELS).reverse().map(level).join(", ")}`,
    zones.resistance.length > 0 && `resistance at ${zones.resistance.slice(0, LEVELS).map(level).join(", ")}`,
    zones.gaps.length > 0 &&
      `open gaps ${zones.gaps
        .slice(-TOLD)
        .map((g) => `${money(g.open_low)}–${money(g.open_high)} since ${day(g.date)}`)
        .join(", ")}`,
    zones.channel &&
      `the half-year's channel runs from ${money(zones.channel.last[0] ?? 0)} to ${money(zones.channel.last[1] ?? 0)}`,
  ].filter(Boolean);
  if (parts.length === 0) return null;
  const text = parts.join("; ");
  return (
    <Typography variant="body2" sx={{ mt: 0.5 }}>
      {text[0]?.toUpperCase()}
      {text.slice(1)} <span className="second">(in {currency}; in brackets how often the price turned there)</span>.
    </Typography>
  );
}
