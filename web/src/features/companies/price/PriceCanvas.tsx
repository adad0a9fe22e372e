// The price as one picture that follows the hand: dragging over it measures a stretch, its foot pans, keys walk from bar to bar.
import Box from "@mui/material/Box";
import { type KeyboardEvent, type PointerEvent, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useWidth } from "../../../headless/useWidth";
import { useColours } from "../../../theme/useColours";
import type { Lane } from "./choices";
import { barOn, EDGE, type Frame, frameOf, type Month, type Price, type View, viewOf, within, zoomed } from "./frame";
import { LANE, markAt, type Placed, paintLanes, placed } from "./lanes";
import { paintPrice } from "./paint";
import { Pointed } from "./Pointed";
import { paintStrength, STRENGTH } from "./strength";

const PRICE = 280;
const DATES = 20;

interface Props {
  symbol: string;
  price: Price;
  months: Month[];
  /** What one would pay, as a share of value. */
  paid: number | null;
  against: boolean;
  lanes: readonly Lane[];
  /** Months in view at first. */
  span: number;
  /** Between which days it is measured. */
  measured: [string, string] | null;
  measure: (ends: [string, string] | null) => void;
}

/** What was drawn last. */
interface Drawn {
  frame: Frame;
  marks: Placed[];
}

export function PriceCanvas(p: Props) {
  const { price, months, paid, against, lanes, span, measured, measure } = p;
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const colours = useColours();
  const [below, above] = [useRef<HTMLCanvasElement>(null), useRef<HTMLCanvasElement>(null)];
  const count = price.dates.length;
  const view = useRef<View>(viewOf(price.dates, span));
  const drawn = useRef<Drawn | null>(null);
  const [at, setAt] = useState<{ bar: number; mark?: Placed | undefined } | null>(null);
  const strengthTop = PRICE + DATES;
  const lanesTop = strengthTop + (price.strength ? STRENGTH : 0);
  const height = lanesTop + lanes.length * LANE + 2;

  const paint = useCallback(() => {
    const pen = penOf(below.current, width, height);
    if (!pen || count === 0) return;
    const frame = frameOf(price, months, view.current, width, PRICE);
    const marks = placed(price.log, price.dates, frame, lanes, lanesTop);
    paintPrice(pen, frame, { price, months, paid, against, colours });
    if (price.strength) paintStrength(pen, frame, price.strength, strengthTop, colours);
    paintLanes(pen, marks, frame, lanes, lanesTop, colours);
    drawn.current = { frame, marks };
  }, [price, months, paid, against, lanes, colours, width, height, lanesTop, strengthTop, count, below]);

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
    [count, paint],
  );
  // Another span or other bars begin anew.
  const begins = useMemo(() => viewOf(price.dates, span), [price.dates, span]);
  const shown = useRef(begins);
  useEffect(() => {
    if (shown.current !== begins) view.current = begins;
    shown.current = begins;
    paint();
  }, [begins, paint]);

  // What one points at, and what is measured, lie above: they change far more often.
  // biome-ignore lint/correctness/useExhaustiveDependencies: after each move the picture below is another
  useEffect(() => {
    const pen = penOf(above.current, width, height);
    const frame = drawn.current?.frame;
    if (!pen || !frame) return;
    const place = (day: string) => frame.x(Math.min(barOn(price.dates, day), count - 1));
    if (measured) {
      const [from, to] = [place(measured[0]), place(measured[1])];
      pen.fillStyle = colours.brass;
      pen.globalAlpha = 0.14;
      pen.fillRect(Math.min(from, to), EDGE.top, Math.abs(to - from), PRICE - EDGE.top);
      pen.globalAlpha = 1;
    }
    if (!at) return;
    const x = frame.x(at.bar);
    pen.strokeStyle = at.mark ? colours.brass : colours.history;
    pen.lineWidth = 1;
    pen.beginPath();
    // From a mark a thread leads up to the price.
    pen.moveTo(x, at.mark ? at.mark.y - 8 : height);
    pen.lineTo(x, at.mark ? frame.y(price.close[at.bar] ?? 1) : EDGE.top);
    pen.stroke();
  }, [at, measured, moved, price, colours, width, height, count, above]);

  const hand = useHand({ view, drawn, move, setAt, measure, price });
  useWheel(box, view, drawn, move, count);

  const press = (e: KeyboardEvent) => {
    const bar = at?.bar ?? count - 1;
    const walk = (by: number) => {
      const to = Math.min(Math.max(bar + by, 0), count - 1);
      setAt({ bar: to });
      const { from, to: end } = view.current;
      if (to < from) move({ from: to, to: to + end - from });
      if (to >= end) move({ from: to + 1 - (end - from), to: to + 1 });
      if (e.shiftKey) measure([measured?.[0] ?? price.dates[bar] ?? "", price.dates[to] ?? ""]);
    };
    const size = view.current.to - view.current.from;
    const does: Record<string, () => void> = {
      ArrowLeft: () => walk(-1),
      ArrowRight: () => walk(1),
      PageUp: () => walk(-Math.round(size / 2)),
      PageDown: () => walk(Math.round(size / 2)),
      "+": () => move(zoomed(view.current, 0.7, bar, count)),
      "-": () => move(zoomed(view.current, 1 / 0.7, bar, count)),
      Escape: () => measure(null),
    };
    const what = does[e.key];
    if (!what) return;
    e.preventDefault();
    what();
  };

  return (
    <>
      <Pointed symbol={p.symbol} price={price} months={months} at={at} />
      <Box
        ref={box}
        role="group"
        aria-label="Price: arrow keys walk from bar to bar, with Shift they measure, + and − zoom"
        tabIndex={0}
        onKeyDown={press}
        onBlur={() => setAt(null)}
        {...hand}
        sx={{ position: "relative", height, touchAction: "pan-y", cursor: "crosshair", userSelect: "none" }}
      >
        <canvas
          ref={below}
          style={{ ...LAYER, width, height }}
          role="img"
          aria-label="Price over the value band, with what happened"
        />
        <canvas ref={above} style={{ ...LAYER, width, height }} />
      </Box>
    </>
  );
}

const LAYER = { position: "absolute", inset: 0 } as const;

/** A pen on a cleared canvas as sharp as the screen. */
function penOf(canvas: HTMLCanvasElement | null, width: number, height: number): CanvasRenderingContext2D | null {
  const pen = canvas?.getContext("2d") ?? null;
  if (!canvas || !pen) return null;
  const scale = window.devicePixelRatio;
  const [wide, tall] = [Math.round(width * scale), Math.round(height * scale)];
  if (canvas.width !== wide || canvas.height !== tall) [canvas.width, canvas.height] = [wide, tall];
  pen.setTransform(scale, 0, 0, scale, 0, 0);
  pen.clearRect(0, 0, width, height);
  return pen;
}

interface Hand {
  view: { current: View };
  drawn: { current: Drawn | null };
  move: (to: View) => void;
  setAt: (at: { bar: number; mark?: Placed | undefined } | null) => void;
  measure: (ends: [string, string] | null) => void;
  price: Price;
}

/** Bars of a drag from which it measures: less is a click. */
const DRAGGED = 1;

/** The pointer: over the price it measures, at its foot it pans. */
function useHand({ view, drawn, move, setAt, measure, price }: Hand) {
  const start = useRef<{ x: number; bar: number; view: View; pans: boolean } | null>(null);
  const place = (e: PointerEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    return [e.clientX - box.left, e.clientY - box.top] as const;
  };
  return {
    onPointerDown: (e: PointerEvent) => {
      const frame = drawn.current?.frame;
      if (!frame || e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      const [x, y] = place(e);
      start.current = { x, bar: frame.bar(x), view: view.current, pans: y > PRICE };
    },
    onPointerMove: (e: PointerEvent) => {
      const frame = drawn.current?.frame;
      if (!frame) return;
      const [x, y] = place(e);
      const from = start.current;
      if (from?.pans) {
        const by = (from.x - x) / frame.step;
        move({ from: from.view.from + by, to: from.view.to + by });
        return;
      }
      const bar = frame.bar(x);
      const mark = y > PRICE ? markAt(drawn.current?.marks ?? [], x, y) : undefined;
      setAt({ bar: mark ? Math.min(barOn(price.dates, mark.entry.date), price.dates.length - 1) : bar, mark });
      if (from && Math.abs(bar - from.bar) >= DRAGGED) measure([price.dates[from.bar] ?? "", price.dates[bar] ?? ""]);
    },
    onPointerUp: (e: PointerEvent) => {
      const [frame, from] = [drawn.current?.frame, start.current];
      start.current = null;
      if (frame && from && !from.pans && frame.bar(place(e)[0]) === from.bar) measure(null);
    },
    onPointerLeave: () => start.current === null && setAt(null),
  };
}

/** Pinching, or the wheel with Ctrl, zooms; sideways, or with Shift, it pans. The plain wheel scrolls the page. */
function useWheel(
  box: { current: HTMLElement | null },
  view: { current: View },
  drawn: { current: Drawn | null },
  move: (to: View) => void,
  count: number,
) {
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const roll = (e: WheelEvent) => {
      const frame = drawn.current?.frame;
      const sideways = e.shiftKey ? e.deltaY || e.deltaX : Math.abs(e.deltaX) > Math.abs(e.deltaY) ? e.deltaX : 0;
      if (!frame || (!e.ctrlKey && sideways === 0)) return;
      e.preventDefault();
      const { from, to } = view.current;
      if (e.ctrlKey) {
        const around = frame.bar(e.clientX - element.getBoundingClientRect().left);
        move(zoomed(view.current, 1.0015 ** e.deltaY, around, count));
      } else {
        const by = sideways / frame.step;
        move({ from: from + by, to: to + by });
      }
    };
    element.addEventListener("wheel", roll, { passive: false });
    return () => element.removeEventListener("wheel", roll);
  }, [box, view, drawn, move, count]);
}
