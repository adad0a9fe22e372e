// Columns of companies: figures by formula, ranks in the own history as a line, and the spread of value.
import { lazy, useMemo } from "react";
import type { Measure, Schemas, ScreenRow } from "../../api/client";
import { useAbout } from "../../api/queries";
import { RangeDrawing, rangeInWords } from "../../components/RangeLine";
import type { Column } from "../../components/table/model";
import { SpreadCell, spreadInWords } from "../../components/ValueSpread";
import { useAddress } from "../../headless/asOf";
import { figureAt, rangeOf, spreadOf } from "../../headless/compact";
import { figureText, unitHint } from "../../headless/format";
import { type Opened, useOpenFigure } from "../../headless/openedFigure";
import { companyColumn } from "../companies/tableColumns";

const MeasureCard = lazy(async () => ({ default: (await import("../../components/MeasureCard")).MeasureCard }));

const OWN_RANK = "Where it stands in its own history: 0 is the lowest ever, 100 the highest.";

export const NO_MEASURES: Measure[] = [];

const isRange = (formula: string) => formula.startsWith("own_rank(");
const rangedMeasure = (formula: string) => /^own_rank\(\s*([a-z_0-9]+)/.exec(formula)?.[1];

export function useResultColumns(asked: Schemas["ColumnInfo"][], measures: Measure[]): Column<ScreenRow>[] {
  const base = useAbout().data?.base;
  const open = useOpenFigure();
  const address = useAddress();
  // The columns of an answer are new objects each time, and mostly the same ones.
  const told = JSON.stringify(asked);
  return useMemo(() => {
    const infos = JSON.parse(told) as Schemas["ColumnInfo"][];
    const byId = new Map(measures.map((m) => [m.id, m]));
    const column = (info: Schemas["ColumnInfo"], i: number) =>
      isRange(info.formula)
        ? rangeColumn(info, i, byId.get(rangedMeasure(info.formula) ?? ""))
        : figureColumn(info, i, byId.get(info.formula.split("(")[0] ?? ""), base, open);
    return [companyColumn<ScreenRow>(address), ...infos.map(column), spreadColumn()];
  }, [told, measures, base, open, address]);
}

function rangeColumn(info: Schemas["ColumnInfo"], i: number, measure: Measure | undefined): Column<ScreenRow> {
  const lowerIsBetter = measure?.better === "lower";
  return {
    id: info.formula,
    label: info.label.replace(" in its own ", ", own "),
    meaning: info.error?.message ?? info.label,
    about: info.error ? undefined : <MeasureCard label={info.label} meaning={OWN_RANK} formula={info.formula} />,
    width: 102,
    sorts: "ascending",
    cell: (row) => {
      const range = rangeOf(row.ranges[i]);
      if (!range) return <Undefined />;
      return <RangeDrawing range={range} unit={measure?.unit} lowerIsBetter={lowerIsBetter} />;
    },
    text: (row) => String(row.values[i] ?? ""),
    tip: (row) => {
      const range = rangeOf(row.ranges[i]);
      return range ? rangeInWords(range, measure?.unit, lowerIsBetter) : figureAt(row, i).reason;
    },
  };
}

function figureColumn(
  info: Schemas["ColumnInfo"],
  i: number,
  measure: Measure | undefined,
  base: string | undefined,
  open: (figure: Opened) => void,
): Column<ScreenRow> {
  const { unit, formula } = info;
  const words = unit === "text" || unit === "flag";
  return {
    id: formula,
    label: measure?.label ?? formula,
    hint: unit === "money" ? base : unitHint(unit),
    meaning: info.error?.message ?? measure?.meaning ?? info.label,
    about: info.error ? undefined : (
      <MeasureCard label={measure?.label ?? info.label} meaning={measure?.meaning ?? ""} formula={formula} />
    ),
    width: unit === "per_share" ? 92 : words ? 124 : 66,
    align: words ? "start" : "end",
    sorts: measure?.better === "lower" || words ? "ascending" : "descending",
    cell: (row) => {
      const text = figureText(figureAt(row, i), unit, true);
      if (text === null) return <Undefined />;
      if (unit !== "per_share") return text;
      return (
        <>
          {text} <span className="faint">{row.currency}</span>
        </>
      );
    },
    text: (row) => String(row.values[i] ?? ""),
    tip: (row) => figureAt(row, i).reason,
    open: (row) => open({ formula, symbol: row.symbol }),
  };
}

function spreadColumn(): Column<ScreenRow> {
  return {
    id: "price and value",
    label: "Price and value",
    meaning:
      "Each valuation as a tick, the quartile band, the value as the tall mark, the price to pay at most as the notch, the price as the flag.",
    width: 134,
    cell: (row) => {
      const spread = spreadOf(row.spread);
      return spread ? <SpreadCell spread={spread} width={126} /> : <Undefined />;
    },
    text: (row) => row.spread?.marks.slice(0, 2).join(" / ") ?? "",
    tip: (row) => {
      const spread = spreadOf(row.spread);
      return spread ? spreadInWords(spread) : "It cannot be valued.";
    },
  };
}

const Undefined = () => <span className="faint">–</span>;
