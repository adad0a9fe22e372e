// What is said of the cell or header under the pointer or the cursor: one popper for the whole table.
import Paper from "@mui/material/Paper";
import Popper from "@mui/material/Popper";
import { type ReactNode, useEffect, useState } from "react";

const AFTER_MS = 300;

interface Said {
  anchor: Element;
  words: ReactNode;
}

/** Tells what is said of an element inside the table, if anything. */
type Words = (element: Element) => { anchor: Element; words: ReactNode } | null;

export function Tip({ table, words, cursor }: { table: HTMLElement | null; words: Words; cursor: string }) {
  const [said, setSaid] = useState<Said | null>(null);
  useEffect(() => {
    if (!table) return;
    let timer = 0;
    let under: Element | null = null;
    const move = (e: Event) => {
      const cell = e.target instanceof Element ? e.target.closest("[data-column], [data-head]") : null;
      if (cell === under) return;
      under = cell;
      window.clearTimeout(timer);
      setSaid(null);
      if (cell) timer = window.setTimeout(() => setSaid(words(cell)), AFTER_MS);
    };
    const leave = () => {
      under = null;
      window.clearTimeout(timer);
      setSaid(null);
    };
    table.addEventListener("pointerover", move);
    table.addEventListener("focusin", move);
    table.addEventListener("pointerleave", leave);
    table.addEventListener("scroll", leave, { passive: true });
    table.addEventListener("focusout", leave);
    return () => {
      window.clearTimeout(timer);
      table.removeEventListener("pointerover", move);
      table.removeEventListener("focusin", move);
      table.removeEventListener("pointerleave", leave);
      table.removeEventListener("scroll", leave);
      table.removeEventListener("focusout", leave);
    };
  }, [table, words]);
  useEffect(() => {
    const cell = cursor === "" ? null : document.getElementById(cursor);
    const timer = window.setTimeout(() => cell && setSaid(words(cell)), AFTER_MS);
    return () => window.clearTimeout(timer);
  }, [cursor, words]);
  if (!said) return null;
  return (
    <Popper open anchorEl={said.anchor} placement="bottom-start" sx={{ zIndex: "tooltip", pointerEvents: "none" }}>
      <Paper elevation={2} sx={{ px: 1, py: 0.5, maxWidth: 340, fontSize: 12, lineHeight: 1.45 }} role="tooltip">
        {said.words}
      </Paper>
    </Popper>
  );
}
