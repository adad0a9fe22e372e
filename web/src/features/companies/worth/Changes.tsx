// Why the value changed since a day: steps from the value then to the value now, each with its cause.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { parseAsString, useQueryState } from "nuqs";
import { useRef } from "react";
import type { Schemas } from "../../../api/client";
import { useValueChange } from "../../../api/evidence";
import { useVisit } from "../../../api/following";
import { useAbout } from "../../../api/queries";
import { Answered } from "../../../components/Answered";
import { DateField, outside } from "../../../components/DateField";
import { FigureCell } from "../../../components/FigureCell";
import { WordChoice } from "../../../components/WordChoice";
import { useAsOf } from "../../../headless/asOf";
import { monthsAfter } from "../../../headless/days";
import { day, inUnit, numberOf, percent, price, signed } from "../../../headless/format";
import { useWidth } from "../../../headless/useWidth";
import { tint } from "../../../theme/theme";

type Change = Schemas["ValueChangeAnswer"];

/** Spans before the date, in months. */
const SPANS: Record<string, number> = {
  "three months before": 3,
  "a year before": 12,
  "three years before": 36,
  "ten years before": 120,
};
const NEWEST = "its newest filing";
const A_DAY = "a day of my choice";
const I_LOOKED = "I last looked";

const NAMES: Record<Schemas["Cause"], string> = {
  filings: "filings",
  estimates: "estimates",
  rates: "rates",
  own_multiples: "its usual multiples",
  currencies: "exchange rates",
  assumptions: "assumptions",
  price: "weight of debt",
};

export function Changes({ symbol, date }: { symbol: string; date: string }) {
  const [asOf] = useAsOf();
  const about = useAbout();
  const [since, setSince] = useQueryState("since", parseAsString.withDefault(""));
  const first = about.data?.first_day ?? undefined;
  const span = Object.keys(SPANS).find((s) => since === monthsAfter(date, -(SPANS[s] ?? 0)));
  const looked = useVisit().data?.since;
  const wrong = outside(since, first, date) || since >= date;
  const answer = useValueChange(symbol, since === "" || wrong ? null : since, asOf);
  const items = [
    { label: NEWEST, chosen: since === "", run: () => void setSince("") },
    ...Object.entries(SPANS).map(([label, months]) => ({
      label,
      chosen: label === span,
      run: () => void setSince(monthsAfter(date, -months)),
    })),
    ...(looked && looked < date
      ? [{ label: I_LOOKED, chosen: since === looked, run: () => void setSince(looked) }]
      : []),
    {
      label: A_DAY,
      chosen: since !== "" && !span && since !== looked,
      run: () => void setSince(monthsAfter(date, -6)),
    },
  ];
  return (
    <Box component="section" aria-label="Why did the value change?" sx={{ mt: 2.5 }}>
      <Typography variant="h3">Why did the value change?</Typography>
      <Typography variant="sentence" component="div">
        Since{" "}
        <WordChoice
          means="Since when"
          word={since === "" ? NEWEST : (span ?? (since === looked ? I_LOOKED : day(since)))}
          items={items}
        />
      </Typography>
      {since !== "" && !span && (
        <Box sx={{ width: 190, mt: 1.5 }}>
          <DateField label="Since" value={since} set={(to) => void setSince(to)} first={first} last={date} />
        </Box>
      )}
      <Answered answer={answer} rows={5}>
        {(change) => <Told change={change} symbol={symbol} />}
      </Answered>
    </Box>
  );
}

function Told({ change: c, symbol }: { change: Change; symbol: string }) {
  const [was, is] = [numberOf(c.before.value), numberOf(c.after.value)];
  return (
    <>
      <Typography variant="sentence" color="textSecondary" sx={{ my: 0.5 }}>
        {c.sentence}
      </Typography>
      {was !== null && is !== null && c.value.length > 0 && <Steps was={was} is={is} change={c} />}
      {c.figures.length > 0 && (
        <Typography variant="body2" color="textSecondary">
          What weighed most in the filings, each alone:{" "}
          {c.figures.map((f, i) => (
            <span key={f.label}>
              {i > 0 && "; "}
              {f.label}{" "}
              <b className="ink">
                {written(f.before, f.unit)} → {written(f.after, f.unit)}
              </b>{" "}
              ({f.weight > 0 && "+"}
              {price(f.weight)})
            </span>
          ))}
          .
        </Typography>
      )}
      <Margin change={c} symbol={symbol} />
    </>
  );
}

const written = (figure: Schemas["Figure"], unit: Schemas["Unit"]): string => {
  const number = numberOf(figure);
  return number === null ? (figure.reason ?? "–") : inUnit(number, unit);
};

/** The margin of safety then and now, and what the price did to it. */
function Margin({ change: c, symbol }: { change: Change; symbol: string }) {
  const [was, is] = [numberOf(c.before.margin_of_safety), numberOf(c.after.margin_of_safety)];
  if (was === null || is === null) return null;
  const byPrice = c.margin.find((p) => p.causes.includes("price"))?.amount ?? 0;
  const points = (x: number) => `${signed(x).replace(/\u202f%$/, "")} points`;
  return (
    <Typography variant="body2" color="textSecondary">
      Margin of safety {percent(was)} →{" "}
      <b className="ink">
        <FigureCell figure={c.after.margin_of_safety} unit="percent" opens={{ formula: "margin_of_safety", symbol }} />
      </b>
      : {points(byPrice)} by the price, {points(is - was - byPrice)} by the value.{" "}
      {c.before.verdict !== c.after.verdict && (
        <>
          The verdict was "{c.before.verdict}" on {day(c.before.date)}, now it is{" "}
          <b className="ink">"{c.after.verdict}"</b>.
        </>
      )}
    </Typography>
  );
}

const ROW = 22;
const LABELS = 150;
const AMOUNTS = 76;

interface Step {
  label: string;
  from: number;
  to: number;
  joint: boolean;
}

function Steps({ was, is, change }: { was: number; is: number; change: Change }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  let at = was;
  const steps = change.value.map((p): Step => {
    const from = at;
    at += p.amount;
    return { label: p.causes.map((cause) => NAMES[cause]).join(" and "), from, to: at, joint: p.causes.length > 1 };
  });
  const all = [was, is, ...steps.flatMap((s) => [s.from, s.to])];
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const pad = (high - low) * 0.08 || 1;
  const plot = Math.min(width, 720) - LABELS - AMOUNTS;
  const x = (v: number) => LABELS + ((v - low + pad) / (high - low + 2 * pad)) * plot;
  const height = (steps.length + 2) * ROW + 4;
  const told = steps.map((s) => `${s.label} ${price(s.to - s.from)}`).join(", ");
  return (
    <Box ref={box} sx={{ my: 1 }}>
      <svg
        width={LABELS + plot + AMOUNTS}
        height={height}
        role="img"
        aria-label={`From ${price(was)} to ${price(is)}: ${told}`}
        style={{ display: "block" }}
      >
        <defs>
          <pattern id="joint" width={5} height={5} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width={2.2} height={5} fill={tint("second")} />
          </pattern>
        </defs>
        <Mark at={x(was)} row={0} label={day(change.before.date)} amount={price(was)} />
        {steps.map((s, i) => (
          <Stepped key={s.label} step={s} x={x} row={i + 1} />
        ))}
        <Mark at={x(is)} row={steps.length + 1} label={day(change.after.date)} amount={price(is)} />
      </svg>
    </Box>
  );
}

const middle = (row: number): number => row * ROW + ROW / 2 + 4;

/** A value as a tall mark. */
function Mark({ at, row, label, amount }: { at: number; row: number; label: string; amount: string }) {
  return (
    <g fontSize={12.5}>
      <text x={LABELS - 12} y={middle(row)} textAnchor="end" fill={tint("second")}>
        {label}
      </text>
      <rect x={at - 1.25} y={row * ROW + 2} width={2.5} height={ROW - 4} fill={tint("ink")} />
      <text x={at + 8} y={middle(row)} fontWeight={600} fill={tint("ink")}>
        {amount}
      </text>
    </g>
  );
}

function Stepped({ step: { label, from, to, joint }, x, row }: { step: Step; x: (v: number) => number; row: number }) {
  const rises = to >= from;
  const colour = tint(rises ? "teal" : "clay");
  const [left, right] = [Math.min(x(from), x(to)), Math.max(x(from), x(to))];
  return (
    <g fontSize={12.5}>
      <text x={LABELS - 12} y={middle(row)} textAnchor="end" fill={tint("ink")}>
        {label}
      </text>
      <line x1={x(from)} x2={x(from)} y1={row * ROW - ROW + 2} y2={row * ROW + ROW - 4} stroke={tint("hairline")} />
      <rect
        x={left}
        y={row * ROW + 5}
        width={Math.max(right - left, 1)}
        height={ROW - 10}
        fill={joint ? "url(#joint)" : colour}
        stroke={joint ? colour : "none"}
      />
      <text x={right + 8} y={middle(row)} fill={colour} fontWeight={600}>
        {rises ? "+" : ""}
        {price(to - from)}
      </text>
    </g>
  );
}
