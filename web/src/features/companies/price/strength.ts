// Relative strength under the price: between 0 and 100, with the marks from which a price is called oversold or overbought.
import type { Schemas } from "../../../api/client";
import type { Colours } from "../../../theme/colours";
import { EDGE, type Frame } from "./frame";
import { FONT, line } from "./paint";

export const STRENGTH = 58;
const OVERSOLD = 30;
const OVERBOUGHT = 70;

export function paintStrength(
  pen: CanvasRenderingContext2D,
  frame: Frame,
  { bars, values }: Schemas["LineAnswer"],
  top: number,
  c: Colours,
) {
  const { width, first, last, x } = frame;
  const y = (v: number) => top + 4 + (1 - v / 100) * (STRENGTH - 8);
  pen.font = FONT;
  pen.textAlign = "left";
  pen.textBaseline = "middle";
  pen.fillStyle = c.second;
  pen.lineWidth = 0.6;
  pen.strokeStyle = c.history;
  for (const level of [OVERSOLD, OVERBOUGHT]) {
    line(pen, [
      [EDGE.left, y(level)],
      [width - EDGE.right, y(level)],
    ]);
    pen.fillText(String(level), width - EDGE.right + 4, y(level));
  }
  pen.fillText(`rsi, ${bars} bars`, EDGE.left + 4, top + 6);
  pen.strokeStyle = c.ink;
  pen.lineWidth = 1.1;
  const known: [number, number][] = [];
  const many = Math.max(Math.floor(1 / frame.step), 1);
  for (let i = first; i <= last; i += many) {
    const v = values[i];
    if (v != null) known.push([x(i), y(v)]);
  }
  if (known.length > 1) line(pen, known);
}
