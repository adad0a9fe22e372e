// The screen being edited: in the address, as a draft on this machine, and undone and redone.
import { useQueryState } from "nuqs";
import { useCallback, useMemo, useRef } from "react";
import type { Screen } from "../../api/client";
import { useReadyScreens } from "../../api/queries";
import { screenText } from "../../headless/address";
import { type Edit, EMPTY, readDraft, writeDraft } from "../../headless/screenState";
import { useUndo } from "../../headless/undo";

/** The screen of the address, else the draft of last time, else the first ready-made one. */
export function useEdited(): [Screen | null, Edit] {
  const [written, write] = useQueryState("screen", screenText);
  const ready = useReadyScreens();
  const screen = useMemo(
    () => written ?? readDraft() ?? ready.data?.[0]?.screen ?? (ready.error ? EMPTY : null),
    [written, ready.data, ready.error],
  );
  const latest = useRef(screen);
  latest.current = screen;
  const did = useUndo((s) => s.did);
  const edit = useCallback<Edit>(
    (change, removed) => {
      const before = latest.current;
      if (!before) return;
      const set = (to: Screen) => {
        latest.current = to;
        writeDraft(to);
        write(to);
      };
      const after = change(before);
      set(after);
      did({ what: `screen ${changed(before, after)}`, removed, undo: () => set(before), redo: () => set(after) });
    },
    [write, did],
  );
  return [screen, edit];
}

/** Where two screens differ: a criterion, or one of the other parts. */
function changed(before: Screen, after: Screen): string {
  const parts = (["name", "universe", "columns", "sort"] as const).filter((part) => before[part] !== after[part]);
  const criteria = (after.blocks ?? []).flatMap((b, i) =>
    (b.criteria ?? []).flatMap((c, j) => (before.blocks?.[i]?.criteria?.[j] === c ? [] : [`${i}.${j}`])),
  );
  return [...parts, ...criteria].join();
}
