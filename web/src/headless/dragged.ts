// Companies that are dragged: from a list, from the tray, from a line, onto a list.
import { type DragEvent, useState } from "react";

const KIND = "application/x-artemon-companies";

export interface Dragged {
  symbols: string[];
  /** The list that they are on, if they come from one. */
  from?: string;
}

/** What an element says when companies are dragged from it. */
export const dragCompanies = (what: Dragged) => ({
  draggable: true,
  onDragStart: (e: DragEvent) => {
    e.dataTransfer.setData(KIND, JSON.stringify(what));
    // As text, for whatever else takes it.
    e.dataTransfer.setData("text/plain", what.symbols.join("\n"));
    e.dataTransfer.effectAllowed = "copyMove";
  },
});

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
      take(what, e.ctrlKey || e.altKey || e.metaKey, e.target as Element);
    },
  };
  return { over, onto };
}
