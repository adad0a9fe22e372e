// A criterion dragged to another place.
import { type DragEvent, useState } from "react";
import type { Place } from "../../headless/screenState";

/** What is dragged: the place of a criterion. */
const KIND = "application/x-artemon-criterion";

export const dragFrom = (place: Place) => (e: DragEvent) => e.dataTransfer.setData(KIND, JSON.stringify(place));

/** Takes a criterion that is dropped here; says whether one is held over it. */
export function useDrop(take: (from: Place) => void) {
  const [over, setOver] = useState(false);
  const onto = {
    onDragOver: (e: DragEvent) => {
      if (!e.dataTransfer.types.includes(KIND)) return;
      e.preventDefault();
      setOver(true);
    },
    onDragLeave: () => setOver(false),
    onDrop: (e: DragEvent) => {
      setOver(false);
      const from = JSON.parse(e.dataTransfer.getData(KIND) || "null") as Place | null;
      if (!from) return;
      e.preventDefault();
      take(from);
    },
  };
  return { over, onto };
}
