// What one does with lines: by the pointer on each, by the keys on the one that has the focus.
import { useMemo } from "react";
import { useNavigate } from "react-router";
import { usePutAway } from "../../api/following";
import { useActions } from "../../headless/actions";
import { type Marked, useMarks } from "../../headless/marks";
import { useUndo } from "../../headless/undo";
import type { Item } from "./Line";

export interface Acting {
  isMarked: (company: Marked) => boolean;
  mark: (companies: Marked[]) => void;
  putAway: (item: Item) => void;
}

const lines = (): HTMLElement[] => [...document.querySelectorAll<HTMLElement>("[data-line]")];
const focused = (): HTMLElement | undefined => lines().find((l) => l.contains(document.activeElement));

function go(by: number) {
  const all = lines();
  const at = all.findIndex((l) => l.contains(document.activeElement));
  const next = all[Math.min(Math.max(at + by, 0), all.length - 1)];
  next?.focus();
  next?.scrollIntoView({ block: "nearest" });
}

/** `items` are all lines of the page, by which the keys find what has the focus. */
export function useActing(items: Map<string, Item>): Acting {
  const navigate = useNavigate();
  const marked = useMarks((s) => s.marked);
  const mark = useMarks((s) => s.toggle);
  const did = useUndo((s) => s.did);
  const { mutate } = usePutAway();
  const acting = useMemo(() => {
    const symbols = new Set(marked.map((m) => m.symbol));
    const putAway = ({ line: { key, state, away }, name }: Item) => {
      const to = (put: boolean) => mutate([put ? { key, state } : { key }]);
      to(!away);
      if (away) return;
      did({
        what: `line ${key}`,
        removed: `${name} put away until something changes`,
        undo: () => to(false),
        redo: () => to(true),
      });
    };
    return { isMarked: (c: Marked) => symbols.has(c.symbol), mark, putAway };
  }, [marked, mark, mutate, did]);
  const here = () => items.get(focused()?.dataset.line ?? "");
  const withHere = (act: (item: Item) => void) => () => {
    const item = here();
    if (item) act(item);
  };
  useActions([
    { keys: "j", label: "Next line", run: () => go(1) },
    { keys: "k", label: "Previous line", run: () => go(-1) },
    { keys: "x", label: "Mark the company of the line", run: withHere((i) => i.company && mark([i.company])) },
    {
      keys: "p",
      label: "Put the line away until something changes",
      run: withHere((i) => {
        go(1);
        acting.putAway(i);
      }),
    },
    { keys: "o", label: "Open the line", run: withHere((i) => i.href && navigate(i.href)) },
  ]);
  return acting;
}
