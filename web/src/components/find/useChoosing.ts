// Keys that choose from a list below a field that keeps the focus.
import { type KeyboardEvent, useState } from "react";

export interface Choosing {
  /** The one that Enter takes; none is -1. */
  chosen: number;
  choose: (index: number) => void;
  /** Whether the key was one of these. */
  press: (e: KeyboardEvent, taken: (index: number) => void, left: () => void) => boolean;
}

export function useChoosing(count: number): Choosing {
  const [at, choose] = useState(0);
  const chosen = Math.min(at, count - 1);
  const press: Choosing["press"] = (e, taken, left) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[e.key];
    if (count > 0 && step) choose((chosen + step + count) % count);
    else if (e.key === "Enter" && chosen >= 0) taken(chosen);
    else if (e.key === "Escape") left();
    else return false;
    e.preventDefault();
    e.stopPropagation();
    return true;
  };
  return { chosen, choose, press };
}
