// A multiple over the company's own years as a path, with its mean, median, quartiles and one deviation; and where it stands today.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { parseAsNumberLiteral, parseAsString, useQueryStates } from "nuqs";
import { useCallback } from "react";
import type { Schemas } from "../../../api/client";
import { useMultiplePath } from "../../../api/evidence";
import { Chart, type ChartOption, timeAxis, tooltip } from "../../../charts/Chart";
import { apart } from "../../../charts/labels";
import { Answered } from "../../../components/Answered";
import { FigureCell } from "../../../components/FigureCell";
import { among, WordChoice } from "../../../components/WordChoice";
import { useAsOf } from "../../../headless/asOf";
import { inUnit } from "../../../headless/format";
import type { Colours } from "../../../theme/colours";

const YEARS = [5, 10, 20] as const;
const MEASURES: Record<string, string> = {
  pe: "P/E",
  pe_adjusted: "P/E of adjusted earnings",
  pb: "P/B",
  ps: "P/S",
  ev_ebit: "EV/EBIT",
  pfcf: "P/FCF",
  fcf_yield: "free cash flow yield",
  dividend_yield: "dividend yield",
  price_to_value: "price to value",
};

const CHOSEN = {
  multiple: parseAsString.withDefault("pe"),
  multiple_years: parseAsNumberLiteral(YEARS).withDefault(10),
};

export function OwnYears({ symbol }: { symbol: string }) {
  const [asOf] = useAsOf();
  const [{ multiple: formula, multiple_years: years }, choose] = useQueryStates(CHOSEN);
  const answer = useMultiplePath(symbol, { formula, years, ...(asOf && { as_of: asOf }) });
  const named = (of: string) => MEASURES[of] ?? of;
  return (
    <Box sx={{ mt: 2 }}>
      <Typography variant="sentence" component="div">
        <WordChoice
          means="Which multiple"
          word={named(formula)}
          items={among(Object.keys(MEASURES), formula, named, (multiple) => void choose({ multiple }))}
        />{" "}
        over its own{" "}
        <WordChoice
          means="How many years"
          word={`${years} years`}
          items={among(
            YEARS,
            years,
            (of) => `${of} years`,
            (multiple_years) => void choose({ multiple_years }),
          )}
        />
        , month by month from what was known then
      </Typography>
      <Answered answer={answer} rows={6}>
        {(path) => <Path path={path} symbol={symbol} formula={formula} />}
      </Answered>
    </Box>
  );
}

function Path({ path, symbol, formula }: { path: Schemas["MultiplePath"]; symbol: string; formula: string }) {
  const known = path.values.some((v) => v != null);
  if (!known) {
    return (
      <Typography variant="body2" color="textSecondary" sx={{ my: 1 }}>
        There is none in these years{path.reason && `: ${path.reason}`}.
      </Typography>
    );
  }
  return (
    <>
      <Drawn path={path} />
      <Typography variant="body2">
        Today{" "}
        <b>
          <FigureCell
            figure={{ value: path.values.at(-1) ?? null, reason: path.reason ?? null }}
            unit={path.unit}
            opens={{ formula, symbol }}
          />
        </b>
        {path.standings.length > 0 && (
          <>
            {": of 100, where 0 is the lowest, "}
            {path.standings.map((s, i) => (
              <span key={s.formula}>
                {i > 0 && ", "}
                <b>
                  <FigureCell
                    figure={{ value: s.rank, reason: null }}
                    unit="rank"
                    opens={{ formula: s.formula, symbol }}
                  />
                </b>{" "}
                {s.among}
              </span>
            ))}
            .
          </>
        )}
      </Typography>
    </>
  );
}

/** Pixels of the picture's height. */
const PLOT = 156;

/** Extremes beyond this many of the highest quartile leave the picture: a year almost without earnings would flatten the rest. */
const FAR = 4;

function Drawn({ path: { dates, values, statistics: s, unit, label } }: { path: Schemas["MultiplePath"] }) {
  const option = useCallback(
    (c: Colours): ChartOption => {
      const written = (v: number) => inUnit(v, unit);
      const all = values.filter((v) => v != null);
      const top = Math.min(Math.max(...all), s ? s.upper_quartile * FAR : Number.POSITIVE_INFINITY);
      const lines: [string, number, "solid" | "dashed" | "dotted", string][] = s
        ? [
            [`median ${written(s.median)}`, s.median, "solid", c.teal],
            [`mean ${written(s.mean)}`, s.mean, "dashed", c.second],
            ["upper quartile", s.upper_quartile, "dotted", c.teal],
            ["lower quartile", s.lower_quartile, "dotted", c.teal],
            ["+ 1 deviation", s.mean + s.deviation, "dotted", c.history],
            ["− 1 deviation", s.mean - s.deviation, "dotted", c.history],
          ]
        : [];
      const floor = Math.min(...all);
      const inView = lines.filter(([, at]) => at <= top && (at >= 0 || floor < 0));
      const moved = apart(
        inView.map(([, at]) => ((top - at) / (top - Math.min(floor, ...inView.map((l) => l[1])))) * PLOT),
      );
      return {
        grid: { left: 44, right: 132, top: 10, bottom: 24 },
        tooltip: { ...tooltip(c), valueFormatter: (v) => (typeof v === "number" ? written(v) : "–") },
        xAxis: timeAxis(c),
        yAxis: {
          type: "value",
          scale: true,
          max: top,
          axisLabel: { color: c.second, formatter: written, hideOverlap: true, showMaxLabel: false },
          splitLine: { show: false },
        },
        series: [
          ...inView.map(([name, at, type, colour], i) => ({
            type: "line" as const,
            name,
            showSymbol: false,
            silent: true,
            tooltip: { show: false },
            lineStyle: { color: colour, width: type === "solid" ? 1.2 : 0.9, type },
            itemStyle: { color: colour },
            endLabel: { show: true, formatter: name, color: colour, fontSize: 11, offset: [0, moved[i] ?? 0] },
            data: [
              [dates[0], at],
              [dates.at(-1), at],
            ] as [string, number][],
          })),
          {
            type: "line",
            name: label,
            showSymbol: false,
            connectNulls: false,
            lineStyle: { color: c.ink, width: 1.4 },
            itemStyle: { color: c.ink },
            data: dates.map((date, i) => [date, values[i] ?? null]),
          },
        ],
      };
    },
    [dates, values, s, unit, label],
  );
  return <Chart label={`${label} over its own years`} height={190} option={option} />;
}
