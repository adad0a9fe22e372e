// Companies that are dragged: from a table, a list, the tray, a line, onto a list.
import { type DragEvent, useState } from "react";
import { create } from "zustand";
import type { Marked } from "./marks";

const KIND = "application/x-artemon-companies";

export interface Dragged {
  companies: Marked[];
  /** The list that they are on, if they come from one. */
  from?: string;
  /** Where they were found, as is remembered of them on a list. */
  found?: string;
}

/** What is being dragged now, for what shows itself to take it; undefined until something is. */
export const useDragged = create<{ now: Dragged | null | undefined }>()(() => ({ now: undefined }));

export const symbolsOf = ({ companies }: Dragged): string[] => companies.map((c) => c.symbol);

/** Begins to drag companies. */
export function drag(e: DragEvent, what: Dragged) {
  e.stopPropagation();
  e.dataTransfer.setData(KIND, JSON.stringify(what));
  // As text, for whatever else takes it.
  e.dataTransfer.setData("text/plain", symbolsOf(what).join("\n"));
  e.dataTransfer.effectAllowed = "copyMove";
  window.addEventListener("dragend", () => useDragged.setState({ now: null }), { once: true });
  // Afterwards: a page that changes while a drag begins ends it.
  setTimeout(() => useDragged.setState({ now: what }));
}

/** What an element says when companies are dragged from it. */
export const dragCompanies = (what: Dragged) => ({ draggable: true, onDragStart: (e: DragEvent) => drag(e, what) });

/** Takes companies that are dropped here; says whether any are held over it. */
export function useCompanyDrop(take: (what: Dragged, copy: boolean, onto: Element) => void) {
  const [over, setOver] = useState(false);
  const onto = {
    onDragOver: (e: DragEvent) => {
      if (!e.dataTransfer.types.includes(KIND)) return;
      e.preventDefault();
      e.stopPropagation();
      setOver(true);
    },
    onDragLeave: () => setOver(false),
    onDrop: (e: DragEvent) => {
      setOver(false);
      const what = JSON.parse(e.dataTransfer.getData(KIND) || "null") as Dragged | null;
      if (!what) return;
      e.preventDefault();
      e.stopPropagation();
      // The element that was dragged may be gone by now, and with it the end of the drag.
      useDragged.setState({ now: null });
      take(what, e.ctrlKey || e.altKey || e.metaKey, e.target as Element);
    },
  };
  return { over, onto };
}
