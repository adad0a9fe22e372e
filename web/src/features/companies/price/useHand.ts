// What pointer, wheel and keys do with the price: over it they measure, at its foot they pan, and they walk from bar to bar.
import { type KeyboardEvent, type PointerEvent, useEffect, useRef } from "react";
import { barOn, type Price, type View, zoomed } from "./frame";
import { markAt, type Placed } from "./lanes";
import { type Drawn, PRICE } from "./usePainted";

/** The bar that is pointed at, or the mark with its bar. */
export interface At {
  bar: number;
  mark?: Placed | undefined;
}

interface Hand {
  view: { current: View };
  drawn: { current: Drawn | null };
  move: (to: View) => void;
  at: At | null;
  setAt: (at: At | null) => void;
  measured: [string, string] | null;
  measure: (ends: [string, string] | null) => void;
  price: Price;
}

export function useHand({ view, drawn, move, setAt, measure, price }: Hand) {
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
      if (from && bar !== from.bar) measure([price.dates[from.bar] ?? "", price.dates[bar] ?? ""]);
    },
    onPointerUp: (e: PointerEvent) => {
      const [frame, from] = [drawn.current?.frame, start.current];
      start.current = null;
      if (frame && from && !from.pans && frame.bar(place(e)[0]) === from.bar) measure(null);
    },
    onPointerLeave: () => start.current === null && setAt(null),
  };
}

/** Nearer by this at a key. */
const NEARER = 0.7;

/** The keys: arrows walk, with Shift they measure, + and − zoom, Escape forgets what was measured. */
export function keysOf({ view, move, at, setAt, measured, measure, price }: Hand) {
  const count = price.dates.length;
  const bar = at?.bar ?? count - 1;
  return (e: KeyboardEvent) => {
    const walk = (by: number) => {
      const to = Math.min(Math.max(bar + by, 0), count - 1);
      setAt({ bar: to });
      const { from, to: end } = view.current;
      if (to < from) move({ from: to, to: to + end - from });
      if (to >= end) move({ from: to + 1 - (end - from), to: to + 1 });
      if (e.shiftKey) measure([measured?.[0] ?? price.dates[bar] ?? "", price.dates[to] ?? ""]);
    };
    const half = Math.round((view.current.to - view.current.from) / 2);
    const does: Record<string, () => void> = {
      ArrowLeft: () => walk(-1),
      ArrowRight: () => walk(1),
      PageUp: () => walk(-half),
      PageDown: () => walk(half),
      "+": () => move(zoomed(view.current, NEARER, bar, count)),
      "-": () => move(zoomed(view.current, 1 / NEARER, bar, count)),
      Escape: () => measure(null),
    };
    const what = does[e.key];
    if (!what) return;
    e.preventDefault();
    what();
  };
}

/** Pinching, or the wheel with Ctrl, zooms; sideways, or with Shift, it pans. The plain wheel scrolls the page. */
export function useWheel(box: { current: HTMLElement | null }, { view, drawn, move, price }: Hand) {
  const count = price.dates.length;
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
