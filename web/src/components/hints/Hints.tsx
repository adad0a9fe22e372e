// What is said of the thing under the pointer or the focus: one popper for the whole page, so that what has a hint costs
// nothing until it is asked for. A thing says its hint as `data-hint`; a table tells those of its cells by `useHints`.
import { lazy, type ReactNode, Suspense, useEffect, useRef, useState } from "react";

const HintPopper = lazy(async () => ({ default: (await import("./HintPopper")).HintPopper }));

const AFTER_MS = 300;

export interface Hint {
  anchor: Element;
  words: ReactNode;
}

/** Tells what is said of an element within, if anything. */
type Words = (element: Element) => Hint | null;

const tables = new WeakMap<Element, Words>();
let show: ((hint: Hint | null) => void) | null = null;

/** Tells the hints of what is inside an element, and that of the cell on which the keys stand. */
export function useHints(within: Element | null, words: Words, cursor: string): void {
  useEffect(() => {
    if (!within) return;
    tables.set(within, words);
    return () => void tables.delete(within);
  }, [within, words]);
  useEffect(() => {
    const cell = cursor === "" ? null : document.getElementById(cursor);
    const timer = window.setTimeout(() => cell && show?.(words(cell)), AFTER_MS);
    return () => window.clearTimeout(timer);
  }, [cursor, words]);
}

/** What has something to say at or around an element. */
const speaker = (target: EventTarget | null): Element | null =>
  target instanceof Element ? target.closest("[data-hint], [data-column], [data-head]") : null;

function said(of: Element): Hint | null {
  const plain = of.getAttribute("data-hint");
  if (plain) return { anchor: of, words: plain };
  const table = of.closest("[role=grid]");
  return (table && tables.get(table)?.(of)) ?? null;
}

export function Hints() {
  const [hint, setHint] = useState<Hint | null>(null);
  const timer = useRef(0);
  useEffect(() => {
    let under: Element | null = null;
    const rest = () => {
      under = null;
      window.clearTimeout(timer.current);
      setHint(null);
    };
    const come = (e: Event) => {
      const of = speaker(e.target);
      if (of === under) return;
      rest();
      under = of;
      if (of) timer.current = window.setTimeout(() => setHint(of.isConnected ? said(of) : null), AFTER_MS);
    };
    const press = (e: KeyboardEvent) => e.key === "Escape" && rest();
    show = setHint;
    document.addEventListener("pointerover", come);
    document.addEventListener("focusin", come);
    document.addEventListener("focusout", rest);
    document.addEventListener("pointerdown", rest);
    document.addEventListener("keydown", press);
    document.addEventListener("scroll", rest, { passive: true, capture: true });
    return () => {
      show = null;
      window.clearTimeout(timer.current);
      document.removeEventListener("pointerover", come);
      document.removeEventListener("focusin", come);
      document.removeEventListener("focusout", rest);
      document.removeEventListener("pointerdown", rest);
      document.removeEventListener("keydown", press);
      document.removeEventListener("scroll", rest, { capture: true });
    };
  }, []);
  return <Suspense>{hint && <HintPopper hint={hint} />}</Suspense>;
}
