// Earnings a share: the years that are over as bars, and the three cases growing out of them on the same axis.
import Box from "@mui/material/Box";
import { useRef } from "react";
import { price as money } from "../../../headless/format";
import { useWidth } from "../../../headless/useWidth";
import { tint } from "../../../theme/theme";
import { COURSES, type Course, type Worked } from "./MyCase";

const HEIGHT = 170;
const FOOT = 20;
const TOP = 12;
const LABELS = 118;

const LOOKS: Record<Course, { colour: string; dash: string }> = {
  low: { colour: tint("clay"), dash: "4 3" },
  likely: { colour: tint("ink"), dash: "" },
  high: { colour: tint("teal"), dash: "7 3" },
};

export function Fans({ worked, currency }: { worked: Worked; currency: string }) {
  const box = useRef<HTMLDivElement>(null);
  const width = Math.min(useWidth(box), 900);
  const ahead = COURSES.flatMap((of) => worked[of]?.years ?? []);
  const years = [...new Set([...worked.past.map((y) => y.fiscal_year), ...ahead.map((y) => y.fiscal_year)])].sort();
  const all = [0, ...worked.past.map((y) => y.eps), ...ahead.map((y) => y.eps)];
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const step = (width - LABELS) / Math.max(years.length, 1);
  const x = (year: number) => (years.indexOf(year) + 0.5) * step;
  const y = (v: number) => TOP + ((high - v) / (high - low || 1)) * (HEIGHT - TOP);
  const words = COURSES.map((of) => `${of} ${money(worked[of]?.years.at(-1)?.eps ?? 0)}`).join(", ");
  return (
    <Box ref={box} sx={{ mt: 1 }}>
      <svg
        width={width}
        height={HEIGHT + FOOT}
        role="img"
        aria-label={`Earnings a share in the last year of each case: ${words} ${currency}`}
        style={{ display: "block" }}
      >
        {worked.past.map(({ fiscal_year: year, eps }) => (
          <rect
            key={year}
            x={x(year) - Math.min(step * 0.35, 18)}
            width={Math.min(step * 0.7, 36)}
            y={Math.min(y(eps), y(0))}
            height={Math.max(Math.abs(y(eps) - y(0)), 1)}
            fill={tint(eps < 0 ? "clay" : "bar")}
          />
        ))}
        <line x1={0} x2={width - LABELS} y1={y(0)} y2={y(0)} stroke={tint("history")} />
        {years.map((year) => (
          <text key={year} x={x(year)} y={HEIGHT + 15} textAnchor="middle" fontSize={11} fill={tint("second")}>
            {year}
          </text>
        ))}
        {COURSES.map((of) => (
          <Fan key={of} course={of} worked={worked} x={x} y={y} />
        ))}
        <Ends worked={worked} at={width - LABELS + 6} y={y} />
      </svg>
    </Box>
  );
}

interface FanProps {
  course: Course;
  worked: Worked;
  x: (year: number) => number;
  y: (eps: number) => number;
}

function Fan({ course, worked, x, y }: FanProps) {
  const start = worked.past.findLast((p) => p.fiscal_year <= (worked.after_year ?? 0));
  const points = [
    ...(start ? [[x(start.fiscal_year), y(start.eps)]] : []),
    ...(worked[course]?.years ?? []).map((year) => [x(year.fiscal_year), y(year.eps)]),
  ];
  const { colour, dash } = LOOKS[course];
  return (
    <polyline
      points={points.join(" ")}
      fill="none"
      stroke={colour}
      strokeWidth={course === "likely" ? 2 : 1.5}
      strokeDasharray={dash}
    />
  );
}

/** Pixels of a line of text. */
const LINE = 14;

/** The implied multiple of today's price at the end of each fan, none over another. */
function Ends({ worked, at, y }: { worked: Worked; at: number; y: (eps: number) => number }) {
  const ends = COURSES.flatMap((course) => {
    const last = worked[course]?.years.at(-1);
    const multiple = worked[course]?.price_to_fifth.value;
    return last
      ? [{ course, eps: last.eps, top: y(last.eps), multiple: typeof multiple === "number" ? multiple : null }]
      : [];
  }).sort((a, b) => a.top - b.top);
  let before = Number.NEGATIVE_INFINITY;
  return ends.map(({ course, eps, top, multiple }) => {
    before = Math.max(top, before + LINE);
    return (
      <text key={course} x={at} y={before + 4} fontSize={12} fill={LOOKS[course].colour}>
        {course} {money(eps)}
        {multiple !== null && ` · ${multiple.toFixed(1)}×`}
      </text>
    );
  });
}
