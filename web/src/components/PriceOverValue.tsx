// Price over value, month by month: the middle half of the valuations as a quiet stretch, value and price as lines, what to pay
// as a hairline. Equal changes are equally tall.
import { price } from "../headless/format";
import { tint } from "../theme/theme";

interface Props {
  width: number;
  height: number;
  prices: number[];
  values: (number | null)[];
  /** The middle half of the valuations, where it is shown. */
  low?: (number | null)[];
  high?: (number | null)[];
  /** What to pay at most, where it is shown. */
  buyBelow?: number | null | undefined;
  currency: string;
}

export function PriceOverValue({ width, height, prices, values, low, high, buyBelow, currency }: Props) {
  const shown = [...prices, ...values, ...(low ?? []), ...(high ?? []), buyBelow];
  const known = shown.filter((v): v is number => typeof v === "number" && v > 0);
  // A few valuations far away must not flatten the price.
  const [middle, far] = [Math.log(median(prices)), Math.log(8)];
  const inView = known.map(Math.log).filter((v) => Math.abs(v - middle) < far);
  const [bottom, top] = [Math.min(...inView), Math.max(...inView)];
  const x = (i: number) => Math.round((i / Math.max(prices.length - 1, 1)) * width * 10) / 10;
  const y = (v: number) => {
    const part = (Math.min(Math.max(Math.log(v), bottom), top) - bottom) / (top - bottom || 1);
    return Math.round((height - 4 - part * (height - 8)) * 10) / 10;
  };
  const [now, worth] = [prices.at(-1) ?? 0, values.at(-1) ?? null];
  const words = `Price ${price(now)} ${currency}${worth === null ? "" : `, value ${price(worth)}`}`;
  return (
    <svg width={width} height={height} role="img" aria-label={words} style={{ display: "block" }}>
      {low && high && <path d={band(low, high, x, y)} fill={tint("tealWash")} stroke="none" />}
      {typeof buyBelow === "number" && buyBelow > 0 && (
        <line x1={0} x2={width} y1={y(buyBelow)} y2={y(buyBelow)} stroke={tint("brass")} strokeWidth={1} />
      )}
      <path d={line(values, x, y)} fill="none" stroke={tint("teal")} strokeWidth={low ? 1.4 : 2} />
      <path d={line(prices, x, y)} fill="none" stroke={tint("ink")} strokeWidth={1.2} />
    </svg>
  );
}

const median = (of: number[]): number => of.toSorted((a, b) => a - b)[Math.floor(of.length / 2)] ?? 1;

const positive = (v: number | null | undefined): v is number => typeof v === "number" && v > 0;

/** A line through what is known and can be drawn. */
function line(of: (number | null)[], x: (i: number) => number, y: (v: number) => number): string {
  let pen = "M";
  const step = (v: number | null, i: number) => {
    const drawn = positive(v) ? `${pen}${x(i)} ${y(v)}` : "";
    pen = positive(v) ? "L" : "M";
    return drawn;
  };
  return of.map(step).join("");
}

/** The area between two lines, in pieces where both are known. */
function band(
  low: (number | null)[],
  high: (number | null)[],
  x: (i: number) => number,
  y: (v: number) => number,
): string {
  const pieces: [number, number, number][][] = [[]];
  low.forEach((bottom, i) => {
    const top = high[i];
    if (positive(bottom) && positive(top)) pieces.at(-1)?.push([x(i), y(top), y(bottom)]);
    else if (pieces.at(-1)?.length) pieces.push([]);
  });
  const area = (piece: [number, number, number][]) => {
    const above = piece.map(([at, top]) => `${at} ${top}`);
    const below = piece.toReversed().map(([at, , bottom]) => `${at} ${bottom}`);
    return piece.length > 1 ? `M${[...above, ...below].join("L")}Z` : "";
  };
  return pieces.map(area).join("");
}
