// Shortcuts: single keys, and g followed by a place. None fires while one types.
import { useEffect, useRef } from "react";

const typing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

export function useKeys(actions: Record<string, () => void>): void {
  const latest = useRef(actions);
  latest.current = actions;
  useEffect(() => {
    let goes = false;
    const press = (e: KeyboardEvent) => {
      const modified = e.ctrlKey || e.metaKey;
      if (e.altKey || e.defaultPrevented || (typing(e.target) && !(modified && e.key === "k"))) return;
      const key = modified ? `ctrl+${e.shiftKey ? "shift+" : ""}${e.key.toLowerCase()}` : goes ? `g ${e.key}` : e.key;
      goes = e.key === "g" && !goes;
      const action = latest.current[key];
      if (!action) return;
      e.preventDefault();
      action();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}
