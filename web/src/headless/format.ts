// Numbers and dates as people read them, as the server's sentences write them.
import type { Figure, Unit } from "../api/client";

const MINUS = "\u2212";
const THIN = "\u202f";

// Making a formatter takes sixty times as long as using one.
const formatters = new Map<number, Intl.NumberFormat>();

function number(digits: number): Intl.NumberFormat {
  const known = formatters.get(digits);
  if (known) return known;
  const made = new Intl.NumberFormat("en-GB", { minimumFractionDigits: digits, maximumFractionDigits: digits });
  formatters.set(digits, made);
  return made;
}

/** A plain number with a true minus sign. */
export function plain(x: number, digits: number): string {
  const text = number(digits).format(Math.abs(x));
  return x < 0 && /[1-9]/.test(text) ? MINUS + text : text;
}

/** "1 row", "1,200 rows" */
export const counted = (n: number, what: string): string => `${plain(n, 0)} ${what}${n === 1 ? "" : "s"}`;

/** "1 company", "1,200 companies" */
export const companies = (n: number): string => `${plain(n, 0)} ${n === 1 ? "company" : "companies"}`;

/** Enough decimals to compare: 1,234 · 123 · 41.2 · 7.32 · 0.073 */
export function compact(x: number): string {
  const size = Math.abs(x);
  if (size >= 1e9) return `${plain(x / 1e9, size >= 1e11 ? 0 : 1)}${THIN}bn`;
  if (size >= 1e6) return `${plain(x / 1e6, size >= 1e8 ? 0 : 1)}${THIN}m`;
  if (size >= 1e4) return plain(x, 0);
  if (size >= 100) return plain(x, size >= 1000 ? 0 : 1);
  if (size >= 0.1 || size === 0) return plain(x, size >= 10 ? 1 : 2);
  return plain(x, 3);
}

/** A scale for amounts that stand together, in words, and how they are written in it: no digit of the largest is wasted. */
export function scaled(amounts: number[]): { words: string; written: (x: number) => string } {
  const most = Math.max(...amounts.map(Math.abs), 0);
  const [by, words] = most >= 1e8 ? [1e6, "millions"] : most >= 1e5 ? [1e3, "thousands"] : [1, ""];
  const digits = most / by >= 1000 ? 0 : 1;
  return { words, written: (x) => (x === 0 ? "0" : plain(x / by, digits)) };
}

/** How many there are: 7,175. */
export const count = (n: number): string => plain(n, 0);

/** How large a file is: 3.4 MB. */
export function bytes(n: number): string {
  const [by, unit] = n >= 2 ** 30 ? [2 ** 30, "GB"] : n >= 2 ** 20 ? [2 ** 20, "MB"] : [2 ** 10, "kB"];
  return `${plain(n / by, n / by >= 100 ? 0 : 1)}${THIN}${unit}`;
}

/** A price or an amount a share. */
export const price = (x: number): string => plain(x, Math.abs(x) >= 1000 ? 0 : 2);

/** A fraction as percent, without the sign for columns that carry it in the header. */
export const percentBare = (x: number): string => plain(x * 100, Math.abs(x) >= 0.0995 ? 0 : 1);

export const percent = (x: number): string => `${percentBare(x)}${THIN}%`;

/** A change as percent, with its sign: +4.1 %. */
export const signed = (x: number): string => (x > 0 ? `+${percent(x)}` : percent(x));

/** A number in its unit; `bare` leaves out what a column's header says. */
export function inUnit(x: number, unit: Unit | null | undefined, bare = false): string {
  switch (unit) {
    case "percent":
      return bare ? percentBare(x) : percent(x);
    case "per_share":
      return price(x);
    case "count":
      return x >= 1e4 ? compact(x) : plain(x, Number.isInteger(x) ? 0 : 1);
    case "days":
    case "rank":
      return plain(x, 0);
    case "years":
      return plain(x, 1);
    case "date":
      return day(new Date(x * 86_400_000).toISOString().slice(0, 10));
    default:
      return compact(x);
  }
}

/** The text of a figure, or null when it is undefined. */
export function figureText(figure: Figure, unit: Unit | null | undefined, bare = false): string | null {
  const { value } = figure;
  if (value === null || value === undefined) return null;
  if (typeof value === "boolean") return value ? "yes" : "no";
  return typeof value === "number" ? inUnit(value, unit, bare) : value;
}

export const numberOf = (figure: Figure | undefined): number | null =>
  typeof figure?.value === "number" ? figure.value : null;

// As the server's sentences write them: three letters each.
const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/** 2026-06-30 as 30 Jun 2026. */
export function day(iso: string): string {
  const [year, month, day] = iso.slice(0, 10).split("-");
  return `${Number(day)} ${MONTHS[Number(month) - 1]} ${year}`;
}

let moments: Intl.DateTimeFormat | undefined;

/** A moment by this machine's clock: 30 Jun, 14:05. */
export function moment(rfc3339: string): string {
  moments ??= new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });
  return moments.format(new Date(rfc3339));
}

/** What a column's header says of its unit. */
export function unitHint(unit: Unit | null | undefined): string {
  if (unit === "percent") return "%";
  if (unit === "rank") return "of 100";
  if (unit === "days") return "days";
  return "";
}
