// Criteria as sentences, and numbers as people type them.
import type { Criterion, Measure, Unit } from "../api/client";
import { inUnit } from "./format";

export interface Named {
  label: string;
  unit: Unit | undefined;
}

/** Splits "eps_growth(5)" into its name and arguments. */
function parts(formula: string): { name: string; args: string } | null {
  const found = /^\s*([a-z_0-9]+)\s*(?:\((.*)\))?\s*$/.exec(formula);
  return found?.[1] ? { name: found[1], args: found[2] ?? "" } : null;
}

const OWN: Record<string, string> = {
  own_rank: "Place of",
  own_median: "Median of",
  own_low: "Low of",
  own_high: "High of",
};

/** A formula in words where it is a measure, else as written. */
export function inWords(formula: string, measures: Measure[]): string {
  const call = parts(formula);
  if (!call) return formula;
  const own = OWN[call.name];
  if (own) {
    const comma = call.args.lastIndexOf(",");
    const inner = inWords(call.args.slice(0, comma), measures);
    return `${inner} in its own ${call.args
      .slice(comma + 1)
      .trim()
      .replace("y", " years")}`;
  }
  const measure = measures.find((m) => m.id === call.name);
  if (!measure) return formula;
  if (!call.args) return measure.label;
  const kind = measure.params[0]?.name;
  const word =
    kind === "n" && measure.unit !== "per_share" && measure.family === "growth" ? `${call.args} years` : call.args;
  const unit = kind === "months" ? `${call.args} months` : kind === "quarters" ? `${call.args} quarters` : word;
  return `${measure.label}, ${unit}`;
}

/** A count of fiscal years: "Profitable years" and out of how many. */
function countedYears(formula: string, measures: Measure[]): { label: string; n: string } | null {
  const call = parts(formula);
  const measure = measures.find((m) => m.id === call?.name);
  const counts = measure?.unit === "count" && measure.params[0]?.name === "n" && /_years$/.test(measure.id);
  return counts && call ? { label: measure.label, n: call.args } : null;
}

/** A bound without needless zeros: 4 rather than 4.00. */
function shortest(x: number, unit: Unit | null | undefined): string {
  const text = inUnit(x, unit);
  return /[.,]\d/.test(text) ? text.replace(/([.,]\d*?)0+(?=\D*$)/, "$1").replace(/[.,](?=\D*$)/, "") : text;
}

/** The criterion as a sentence in two parts: what, and how much. */
export function sentence(
  c: Criterion,
  measures: Measure[],
  unit: Unit | null | undefined,
): { what: string; bound: string } {
  const years = countedYears(c.formula, measures);
  const what = years ? years.label : inWords(c.formula, measures);
  const show = (x: number) => (years ? `${x} of ${years.n}` : shortest(x, unit));
  const range = (): string => {
    if (typeof c.min === "number" && typeof c.max === "number") return `from ${show(c.min)} to ${show(c.max)}`;
    if (typeof c.min === "number") return `at least ${show(c.min)}`;
    if (typeof c.max === "number") return `at most ${show(c.max)}`;
    if (c.one_of?.length) return `is ${c.one_of.join(" or ")}`;
    return "";
  };
  return { what, bound: c.negate ? `not ${range() || "so"}` : range() };
}

/** A bound as typed: percent units are typed in percent. Null for an empty field, undefined for no number. */
export function parseBound(text: string, unit: Unit | null | undefined): number | null | undefined {
  const clean = text.trim().replace("\u2212", "-").replace("%", "").replace(",", ".").trim();
  if (!clean) return null;
  const found = /^(-?\d*\.?\d+)\s*(k|m|bn)?$/.exec(clean);
  if (!found?.[1]) return undefined;
  const scale = { k: 1e3, m: 1e6, bn: 1e9 }[found[2] ?? ""] ?? 1;
  const value = Number(found[1]) * scale;
  return unit === "percent" ? Number((value / 100).toPrecision(12)) : value;
}

export function showBound(x: number | null | undefined, unit: Unit | null | undefined): string {
  if (x === null || x === undefined) return "";
  return String(unit === "percent" ? Number((x * 100).toPrecision(8)) : Number(x.toPrecision(8)));
}

/** A round number near x, for dragged bounds: as fine as a hundredth of the axis. */
export function rounded(x: number, width: number, unit: Unit | null | undefined): number {
  if (unit === "count" || unit === "rank" || unit === "days") return Math.round(x);
  const step = 10 ** Math.floor(Math.log10(Math.max(width, 1e-9) / 100));
  return Number((Math.round(x / step) * step).toPrecision(10));
}
