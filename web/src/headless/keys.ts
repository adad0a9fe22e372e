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
      if (typing(e.target) || e.altKey || e.metaKey || (e.ctrlKey && e.key !== "k")) return;
      const key = e.ctrlKey ? `ctrl+${e.key}` : goes ? `g ${e.key}` : e.key;
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
