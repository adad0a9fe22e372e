// Draws the price: the value band, bars, lines, zones and volume, on one canvas, fast enough to follow the hand.
import { price as money } from "../../../headless/format";
import type { Colours } from "../../../theme/colours";
import { barOn, EDGE, type Frame, type Month, type Price, ticks } from "./frame";

export interface Scene {
  price: Price;
  months: Month[];
  /** What one would pay, as a share of value. */
  paid: number | null;
  /** Whether the index is drawn. */
  against: boolean;
  colours: Colours;
}

type Pen = CanvasRenderingContext2D;

export const FONT = '11px "IBM Plex Sans", system-ui, sans-serif';

export function paintPrice(pen: Pen, frame: Frame, scene: Scene) {
  pen.font = FONT;
  pen.textBaseline = "middle";
  axis(pen, frame, scene.colours);
  dates(pen, frame, scene);
  pen.save();
  pen.beginPath();
  pen.rect(EDGE.left, 0, frame.width - EDGE.left - EDGE.right, frame.height);
  pen.clip();
  value(pen, frame, scene);
  gaps(pen, frame, scene);
  channel(pen, frame, scene);
  volume(pen, frame, scene);
  bands(pen, frame, scene);
  if (scene.against) index(pen, frame, scene);
  bars(pen, frame, scene);
  averages(pen, frame, scene);
  pen.restore();
  levels(pen, frame, scene);
  last(pen, frame, scene);
}

/** Hairlines at round prices, with the price at the right. */
function axis(pen: Pen, { width, height, y, priceAt }: Frame, { hairline, second }: Colours) {
  pen.lineWidth = 0.6;
  pen.strokeStyle = hairline;
  pen.fillStyle = second;
  pen.textAlign = "left";
  for (const at of ticks(priceAt(height - EDGE.bottom), priceAt(EDGE.top))) {
    line(pen, [
      [EDGE.left, y(at)],
      [width - EDGE.right, y(at)],
    ]);
    pen.fillText(money(at).replace(/\.00$/, ""), width - EDGE.right + 16, y(at));
  }
}

/** The quartiles of value as a quiet stretch, the value as a line, and what one would pay as a hairline: steps from month to month. */
function value(pen: Pen, frame: Frame, { price: { dates }, months, paid, colours }: Scene) {
  const { x, y, first, last } = frame;
  const known = months.flatMap((m) => {
    const at = barOn(dates, m.date);
    return m.value != null && at <= last + 40 && at >= first - 40 ? [{ ...m, at, value: m.value }] : [];
  });
  pen.fillStyle = colours.tealWash;
  known.forEach((m, i) => {
    if (m.low == null || m.high == null || m.low <= 0) return;
    const until = x(known[i + 1]?.at ?? last + 0.5);
    pen.fillRect(x(m.at) - 0.25, y(m.high), until - x(m.at) + 0.5, y(m.low) - y(m.high));
  });
  const stepped = (of: (v: number) => number) =>
    known.flatMap((m, i): [number, number][] => {
      const level = y(of(m.value));
      return [
        [x(m.at), level],
        [x(known[i + 1]?.at ?? last + 0.5), level],
      ];
    });
  pen.strokeStyle = colours.teal;
  pen.lineWidth = 1.6;
  line(
    pen,
    stepped((v) => v),
  );
  away(pen, frame, known.at(-1)?.value, colours);
  if (paid === null) return;
  pen.strokeStyle = colours.brass;
  pen.lineWidth = 0.9;
  line(
    pen,
    stepped((v) => v * paid),
  );
}

/** A value that is out of view is said at the edge beyond which it lies. */
function away(pen: Pen, { y, width, height }: Frame, worth: number | undefined, { teal }: Colours) {
  if (worth === undefined || worth <= 0) return;
  const [above, below] = [y(worth) < EDGE.top, y(worth) > height];
  if (!above && !below) return;
  pen.fillStyle = teal;
  pen.textAlign = "right";
  pen.fillText(
    `value ${money(worth)} ${above ? "↑" : "↓"}`,
    width - EDGE.right - 16,
    above ? EDGE.top + 8 : height - 8,
  );
}

/** Bars hollow when they close above their open, filled when below; where there is no room for bodies, from low to high. */
function bars(pen: Pen, frame: Frame, { price: p, colours }: Scene) {
  const { x, y, step, first, last } = frame;
  const roomy = step >= 3;
  pen.strokeStyle = colours.ink;
  pen.lineWidth = 1;
  pen.beginPath();
  for (const [from, to] of roomy ? each(first, last) : columns(frame)) {
    let [high, low] = [0, Number.POSITIVE_INFINITY];
    for (let i = from; i <= to; i++) [high, low] = [Math.max(high, p.high[i] ?? 0), Math.min(low, p.low[i] ?? low)];
    const at = Math.round(x(from)) + 0.5;
    pen.moveTo(at, y(high));
    pen.lineTo(at, Math.max(y(low), y(high) + 1));
  }
  pen.stroke();
  if (!roomy) return;
  const wide = Math.max(Math.round(step * 0.62), 2);
  for (let i = first; i <= last; i++) {
    const [open, close] = [y(p.open[i] ?? 0), y(p.close[i] ?? 0)];
    const left = Math.round(x(i) - wide / 2) + 0.5;
    const [top, tall] = [Math.min(open, close), Math.max(Math.abs(open - close), 1)];
    pen.fillStyle = close < open ? colours.panel : colours.ink;
    pen.fillRect(left, top, wide, tall);
    pen.strokeRect(left, top, wide, tall);
  }
}

function* each(first: number, last: number): Iterable<[number, number]> {
  for (let i = first; i <= last; i++) yield [i, i];
}

/** The bars of each column of pixels: where there are thousands, no more is drawn than can be seen. */
function* columns({ step, first, last, view }: Frame): Iterable<[number, number]> {
  const many = Math.max(Math.floor(1 / step), 1);
  // Counted from the first of all bars, so that columns stay together while one pans.
  const start = Math.max(first - (Math.floor(view.from) % many), 0);
  for (let i = start; i <= last; i += many) yield [i, Math.min(i + many - 1, last)];
}

/** Volume as a low comb on the ground. */
function volume(pen: Pen, frame: Frame, { price: { volume: all }, colours }: Scene) {
  const { x, height, step, first, last } = frame;
  let most = 0;
  for (let i = first; i <= last; i++) most = Math.max(most, all[i] ?? 0);
  if (most === 0) return;
  pen.fillStyle = colours.history;
  pen.globalAlpha = 0.75;
  const wide = Math.min(Math.max(step * 0.5, 0.8), 3);
  for (const [from, to] of columns(frame)) {
    let traded = 0;
    for (let i = from; i <= to; i++) traded = Math.max(traded, all[i] ?? 0);
    const tall = (traded / most) * height * 0.14;
    pen.fillRect(x(from) - wide / 2, height - tall, wide, tall);
  }
  pen.globalAlpha = 1;
}

const DASHES = [[], [5, 3], [1.5, 2.5], [8, 3, 2, 3]];

function averages(pen: Pen, frame: Frame, { price, colours }: Scene) {
  price.averages.forEach((average, i) => {
    pen.strokeStyle = i === 0 ? colours.second : colours.faint;
    pen.lineWidth = 1.2;
    pen.setLineDash(DASHES[i] ?? []);
    over(pen, frame, average.values);
  });
  pen.setLineDash([]);
}

function bands(pen: Pen, frame: Frame, { price, colours }: Scene) {
  if (!price.bands) return;
  pen.strokeStyle = colours.history;
  pen.lineWidth = 1;
  over(pen, frame, price.bands.lower);
  over(pen, frame, price.bands.upper);
}

/** The index as if it had cost the same at the first bar in view. */
function index(pen: Pen, frame: Frame, { price: p, colours }: Scene) {
  const start = p.index?.values[frame.first];
  const close = p.close[frame.first];
  if (!p.index || !start || !close) return;
  pen.strokeStyle = colours.history;
  pen.lineWidth = 1.6;
  over(
    pen,
    frame,
    p.index.values.map((v) => (v == null ? null : (v / start) * close)),
  );
}

/** A line through what is known of the bars in view, a point a column of pixels. */
function over(pen: Pen, frame: Frame, values: (number | null | undefined)[]) {
  const { x, y } = frame;
  pen.beginPath();
  let down = false;
  for (const [, i] of columns(frame)) {
    const v = values[i];
    if (v == null || v <= 0) {
      down = false;
    } else if (down) pen.lineTo(x(i), y(v));
    else {
      pen.moveTo(x(i), y(v));
      down = true;
    }
  }
  pen.stroke();
}

/** Open gaps as hatched bands, from where they opened. */
function gaps(pen: Pen, { x, y, width }: Frame, { price: { dates, zones }, colours }: Scene) {
  pen.strokeStyle = colours.history;
  pen.lineWidth = 0.8;
  for (const gap of zones.gaps) {
    const [left, top, bottom] = [x(barOn(dates, gap.date)), y(gap.open_high), y(gap.open_low)];
    const right = width - EDGE.right;
    pen.save();
    pen.beginPath();
    pen.rect(left, top, right - left, Math.max(bottom - top, 1));
    pen.clip();
    pen.beginPath();
    for (let at = left - (bottom - top); at < right; at += 6) {
      pen.moveTo(at, bottom);
      pen.lineTo(at + (bottom - top), top);
    }
    pen.stroke();
    pen.restore();
  }
}

function channel(pen: Pen, { x, y }: Frame, { price: { dates, zones }, colours }: Scene) {
  const c = zones.channel;
  if (!c) return;
  pen.strokeStyle = colours.faint;
  pen.lineWidth = 0.8;
  const [from, to] = [x(barOn(dates, c.from)), x(Math.min(barOn(dates, c.to), dates.length - 1))];
  for (const side of [0, 1]) {
    line(pen, [
      [from, y(c.first[side] ?? 1)],
      [to, y(c.last[side] ?? 1)],
    ]);
  }
}

/** Levels drawn on each side of the price: the nearest. */
export const LEVELS = 3;

/** Support and resistance as short dashes at the margin, with the number of touches. */
function levels(pen: Pen, { y, width, height }: Frame, { price: { zones }, colours }: Scene) {
  pen.fillStyle = colours.brass;
  pen.textAlign = "left";
  let before = Number.NEGATIVE_INFINITY;
  for (const { level, touches } of [...zones.support.slice(-LEVELS), ...zones.resistance.slice(0, LEVELS)].reverse()) {
    const at = y(level);
    if (at < EDGE.top || at > height) continue;
    pen.fillRect(width - EDGE.right - 12, at - 1, 12, 2);
    // Where they are too close for that, the words below say how often each was touched.
    if (at - before < LINE) continue;
    before = at;
    pen.fillText(String(touches), width - EDGE.right + 3, at);
  }
}

/** Pixels of a line of text. */
const LINE = 11;

/** The last price, at the right. */
function last(pen: Pen, { y, width }: Frame, { price: { close }, colours }: Scene) {
  const now = close.at(-1);
  if (now === undefined) return;
  const text = money(now);
  pen.fillStyle = colours.ink;
  pen.fillRect(width - EDGE.right + 12, y(now) - 8, EDGE.right - 12, 16);
  pen.fillStyle = colours.panel;
  pen.textAlign = "left";
  pen.fillText(text, width - EDGE.right + 16, y(now) + 0.5);
}

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/** Years, or months where there is room, as ticks that the lanes below share. */
function dates(pen: Pen, { x, first, last, step, height }: Frame, { price: { dates: all }, colours }: Scene) {
  const perYear = (last - first + 1) / yearsBetween(all[first] ?? "", all[last] ?? "");
  const monthly = (perYear / 12) * step > 34;
  const yearly = perYear * step;
  const skip = yearly > 34 ? 1 : Math.ceil(34 / yearly);
  pen.strokeStyle = colours.hairline;
  pen.fillStyle = colours.second;
  pen.lineWidth = 0.6;
  pen.textAlign = "left";
  for (let i = Math.max(first, 1); i <= last; i++) {
    const [before, now] = [all[i - 1] ?? "", all[i] ?? ""];
    const isYear = before.slice(0, 4) !== now.slice(0, 4);
    const isMonth = before.slice(0, 7) !== now.slice(0, 7);
    if (!isYear && !(monthly && isMonth)) continue;
    if (isYear && !monthly && Number(now.slice(0, 4)) % skip !== 0) continue;
    line(pen, [
      [x(i) - step / 2, EDGE.top],
      [x(i) - step / 2, height],
    ]);
    pen.fillText(
      isYear ? now.slice(0, 4) : (MONTHS[Number(now.slice(5, 7)) - 1] ?? ""),
      x(i) - step / 2 + 3,
      height + 9,
    );
  }
}

const yearsBetween = (from: string, to: string): number =>
  Math.max((Date.parse(to) - Date.parse(from)) / (365.25 * 86_400_000), 0.05);

export function line(pen: Pen, points: [number, number][]) {
  pen.beginPath();
  for (const [i, [x, y]] of points.entries()) {
    if (i === 0) pen.moveTo(x, y);
    else pen.lineTo(x, y);
  }
  pen.stroke();
}
