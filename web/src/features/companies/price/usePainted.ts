// The picture of the price on its canvas, painted anew when what it shows or the stretch in view is another.
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useColours } from "../../../theme/useColours";
import type { Lane } from "./choices";
import { type Frame, frameOf, type Month, type Price, type View, viewOf, within } from "./frame";
import { LANE, type Placed, paintLanes, placed } from "./lanes";
import { paintPrice } from "./paint";
import { paintStrength, STRENGTH } from "./strength";

/** Pixels of the price, and of the days below it. */
export const PRICE = 280;
const DATES = 20;

export interface Shown {
  price: Price;
  months: Month[];
  /** What one would pay, as a share of value. */
  paid: number | null;
  against: boolean;
  lanes: readonly Lane[];
  /** Months in view at first. */
  span: number;
}

/** What was drawn last. */
export interface Drawn {
  frame: Frame;
  marks: Placed[];
}

export function usePainted({ price, months, paid, against, lanes, span }: Shown, width: number) {
  const colours = useColours();
  const canvas = useRef<HTMLCanvasElement>(null);
  const count = price.dates.length;
  // Another span or other bars begin anew.
  const begins = useMemo(() => viewOf(price.dates, span), [price.dates, span]);
  const [view, shown] = [useRef<View>(begins), useRef(begins)];
  const drawn = useRef<Drawn | null>(null);
  const strengthTop = PRICE + DATES;
  const lanesTop = strengthTop + (price.strength ? STRENGTH : 0);
  const height = lanesTop + lanes.length * LANE + 2;

  const paint = useCallback(() => {
    const pen = penOf(canvas.current, width, height);
    if (!pen || count === 0) return;
    const frame = frameOf(price, months, view.current, width, PRICE);
    const marks = placed(price.log, price.dates, frame, lanes, lanesTop);
    paintPrice(pen, frame, { price, months, paid, against, colours });
    if (price.strength) paintStrength(pen, frame, price.strength, strengthTop, colours);
    paintLanes(pen, marks, frame, lanes, lanesTop, colours);
    drawn.current = { frame, marks };
  }, [price, months, paid, against, lanes, colours, width, height, lanesTop, strengthTop, count, view]);

  useEffect(() => {
    if (shown.current !== begins) view.current = begins;
    shown.current = begins;
    paint();
  }, [begins, paint, view, shown]);

  // However often it is moved, it is painted once a frame.
  const [moved, setMoved] = useState(0);
  const waiting = useRef(0);
  const move = useCallback(
    (to: View) => {
      view.current = within(to, count);
      waiting.current ||= requestAnimationFrame(() => {
        waiting.current = 0;
        paint();
        setMoved((n) => n + 1);
      });
    },
    [count, paint, view],
  );
  return { canvas, view, drawn, move, moved, height };
}

/** A pen on a cleared canvas as sharp as the screen. */
export function penOf(
  canvas: HTMLCanvasElement | null,
  width: number,
  height: number,
): CanvasRenderingContext2D | null {
  const pen = canvas?.getContext("2d") ?? null;
  if (!canvas || !pen) return null;
  const scale = window.devicePixelRatio;
  const [wide, tall] = [Math.round(width * scale), Math.round(height * scale)];
  if (canvas.width !== wide || canvas.height !== tall) [canvas.width, canvas.height] = [wide, tall];
  pen.setTransform(scale, 0, 0, scale, 0, 0);
  pen.clearRect(0, 0, width, height);
  return pen;
}
