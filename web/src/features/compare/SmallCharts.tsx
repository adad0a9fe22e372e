// The evidence of a question, small enough to stand under its sentence.
import type { ReactNode } from "react";
import type { Figure, Schemas, Unit } from "../../api/client";
import { PriceOverValue } from "../../components/PriceOverValue";
import { RangeLine } from "../../components/RangeLine";
import { inUnit, numberOf } from "../../headless/format";
import { tint } from "../../theme/theme";

type Page = Schemas["CompanyPage"];

const WIDTH = 168;
export const SMALL = 48;

/** What is drawn of each question; of the others nothing. */
const DRAWN: Record<string, (page: Page) => ReactNode> = {
  earnings: (p) => <Bars page={p} of="eps" unit="per_share" what="Earnings a share" />,
  multiple: (p) => {
    const pe = p.ranges.find((r) => r.measure === "pe");
    return pe?.range && <RangeLine range={pe.range} unit={pe.unit} lowerIsBetter={pe.lower_is_better} width={WIDTH} />;
  },
  margin: (p) => <Bars page={p} of="net_margin" unit="percent" what="Net margin" />,
  debt: (p) => <Bars page={p} of="debt_to_equity" unit="ratio" what="Debt to equity" />,
  cash: (p) => <Bars page={p} of="free_cash_flow" unit="money" what="Free cash flow" />,
  worth: (p) => (
    <PriceOverValue
      width={WIDTH}
      height={SMALL}
      prices={p.months.map((m) => m.price)}
      values={p.months.map((m) => m.value ?? null)}
      currency={p.currency}
    />
  ),
};

export const hasSmallChart = (question: string): boolean => question in DRAWN;

export const SmallChart = ({ question, page }: { question: string; page: Page }) => DRAWN[question]?.(page) ?? null;

interface BarsProps {
  page: Page;
  of: keyof Schemas["YearRow"];
  unit: Unit;
  what: string;
}

/** A figure of the reported years, oldest first. */
function Bars({ page, of, unit, what }: BarsProps) {
  const known = page.years
    .filter((y) => !y.estimated)
    .toReversed()
    .flatMap((y) => {
      const value = numberOf(y[of] as Figure);
      return value === null || !Number.isFinite(value) ? [] : [{ year: y.fiscal_year, value }];
    });
  const [first, last] = [known[0], known.at(-1)];
  if (!first || !last) return null;
  const values = known.map((k) => k.value);
  const [low, high] = [Math.min(0, ...values), Math.max(0, ...values)];
  const y = (v: number) => 2 + ((high - v) / (high - low || 1)) * (SMALL - 6);
  const step = WIDTH / Math.max(known.length, 6);
  const words = `${what}: ${inUnit(first.value, unit)} in ${first.year}, ${inUnit(last.value, unit)} in ${last.year}`;
  return (
    <svg width={WIDTH} height={SMALL} role="img" aria-label={words} style={{ display: "block" }}>
      <title>{words}</title>
      {known.map(({ year, value }, i) => (
        <rect
          key={year}
          x={i * step + 1}
          width={step - 2}
          y={Math.min(y(value), y(0))}
          height={Math.max(Math.abs(y(value) - y(0)), 0.8)}
          fill={tint(value < 0 ? "clay" : "bar")}
        />
      ))}
      <line x1={0} x2={WIDTH} y1={y(0)} y2={y(0)} stroke={tint("history")} strokeWidth={0.7} />
    </svg>
  );
}
