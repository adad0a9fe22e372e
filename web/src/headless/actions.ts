// What one can do where one is: each action once, for the keys, the command search and the list of shortcuts.
import { useEffect, useRef } from "react";
import { create } from "zustand";
import { persist } from "zustand/middleware";

export interface Action {
  /** As the command search says it; without one it is only a key. */
  label?: string;
  /** A single key, g and a key ("g s"), or one with Ctrl ("ctrl+z"); several keys are parted by a bar. */
  keys?: string;
  run: () => void;
}

const here = new Set<{ current: Action[] }>();
const everywhere = new Set<{ current: Action[] }>();

/** Offers actions as long as the component is there. */
export function useActions(actions: Action[], where: "here" | "everywhere" = "here"): void {
  const latest = useRef(actions);
  latest.current = actions;
  useEffect(() => {
    const among = where === "here" ? here : everywhere;
    among.add(latest);
    return () => void among.delete(latest);
  }, [where]);
}

const all = (of: Set<{ current: Action[] }>): Action[] => [...of].flatMap((r) => r.current);

/** What can be done now: in this place, and everywhere. */
export const actionsNow = (): { here: Action[]; everywhere: Action[] } => ({
  here: all(here),
  everywhere: all(everywhere),
});

interface Preferences {
  /** Whether keys without Ctrl do something. */
  singleKeys: boolean;
  set: (to: Partial<Omit<Preferences, "set">>) => void;
}

export const usePreferences = create<Preferences>()(
  persist((set) => ({ singleKeys: true, set }), { name: "artemon.preferences" }),
);

const typing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

/** Listens to the keys of all actions. None without Ctrl fires while one types. */
export function useActionKeys(): void {
  useEffect(() => {
    let goes = false;
    const press = (e: KeyboardEvent) => {
      const modified = e.ctrlKey || e.metaKey;
      if (e.altKey || e.defaultPrevented) return;
      if (typing(e.target) && !(modified && e.key === "k")) return;
      if (!modified && !usePreferences.getState().singleKeys) return;
      const key = modified ? `ctrl+${e.shiftKey ? "shift+" : ""}${e.key.toLowerCase()}` : goes ? `g ${e.key}` : e.key;
      goes = e.key === "g" && !goes;
      const action = [...all(here), ...all(everywhere)].find((a) => a.keys?.split("|").includes(key));
      if (!action) return;
      e.preventDefault();
      action.run();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}

const upper = (letter: string): string => letter.toUpperCase();

/** Keys as people read them. */
export const keysInWords = (keys: string): string =>
  keys
    .split("|")
    .map((k) =>
      k.startsWith("ctrl+") ? k.replace("ctrl+", "Ctrl ").replace("shift+", "Shift ").replace(/.$/, upper) : k,
    )
    .join(" or ");
