// The screen being worked on: in the address, as a draft on this machine, and undone and redone. A saved one is in the address
// by its id, with what was changed beside it.
import { useQueryStates } from "nuqs";
import { useCallback, useEffect, useMemo, useRef } from "react";
import type { Screen, Schemas } from "../../api/client";
import { useDocument, useReadyScreens } from "../../api/queries";
import { screenText, text, whole } from "../../headless/address";
import { type Edit, EMPTY, readWorking, same, unsaved, type Working, writeWorking } from "../../headless/screenState";
import { useUndo } from "../../headless/undo";

const IN_ADDRESS = { screen: screenText, doc: text, version: whole };

export interface Edited extends Working {
  edit: Edit;
  /** Works on another screen, which is offered to be undone; one that is as it was saved needs no more than its id. */
  open: (to: Working, asSaved?: boolean) => void;
  /** It is saved as this now, under this name. */
  keptAs: (doc: string, version: number, name: string) => void;
  /** The document it is or began as, in its newest version. */
  saved: Schemas["DocumentAnswer"] | undefined;
  /** Whether it differs from what is saved, or is not saved at all. */
  changed: boolean;
}

export function useEdited(): Edited | { failed: Error } | null {
  const [{ screen: written, doc, version }, write] = useQueryStates(IN_ADDRESS);
  const ready = useReadyScreens();
  const draft = useMemo(() => (written || doc ? null : readWorking()), [written, doc]);
  const document = useDocument(doc ?? draft?.doc ?? null);
  const saved = document.data;
  const gone = Boolean(document.error ?? saved?.deleted_at);
  const working = useMemo((): Working | null => {
    const here = draft ?? (written && { screen: written, doc, version });
    // What was deleted meanwhile, or is somebody else's, is worked on as a screen of its own.
    if (here) return here.doc && gone ? unsaved(here.screen) : here;
    if (doc) return saved ? { screen: saved.body as Screen, doc, version: saved.version } : null;
    const first = ready.data?.[0]?.screen ?? (ready.error ? EMPTY : null);
    return first && unsaved(first);
  }, [draft, written, doc, version, saved, gone, ready.data, ready.error]);
  const latest = useRef(working);
  latest.current = working;
  useEffect(() => {
    if (doc && working) writeWorking(working);
  }, [doc, working]);
  const did = useUndo((s) => s.did);
  const set = useCallback(
    (to: Working, asSaved = false) => {
      latest.current = to;
      writeWorking(to);
      void write(
        asSaved
          ? { screen: null, doc: to.doc, version: null }
          : { screen: to.screen, doc: to.doc, version: to.version },
      );
    },
    [write],
  );
  const go = useCallback(
    (to: Working, removed?: string, asSaved?: boolean) => {
      const before = latest.current;
      set(to, asSaved);
      if (!before) return;
      const what = before.doc === to.doc ? `screen ${changedParts(before.screen, to.screen)}` : "another screen";
      did({ what, removed, undo: () => set(before), redo: () => set(to) });
    },
    [set, did],
  );
  const edit = useCallback<Edit>(
    (change, removed) => {
      const before = latest.current;
      if (before) go({ ...before, screen: change(before.screen) }, removed);
    },
    [go],
  );
  const open = useCallback<Edited["open"]>((to, asSaved) => go(to, "Another screen opened", asSaved), [go]);
  const keptAs = useCallback<Edited["keptAs"]>(
    (doc, version, name) => {
      if (latest.current) set({ screen: { ...latest.current.screen, name }, doc, version }, true);
    },
    [set],
  );
  return useMemo(() => {
    if (working) {
      const changed = !working.doc || (saved !== undefined && !same(working.screen, saved.body as Screen));
      return { ...working, edit, open, keptAs, saved: working.doc ? saved : undefined, changed };
    }
    return document.error ? { failed: document.error } : null;
  }, [working, saved, document.error, edit, open, keptAs]);
}

/** Where two screens differ: a criterion, or one of the other parts. */
function changedParts(before: Screen, after: Screen): string {
  const parts = (["name", "universe", "columns", "sort"] as const).filter((part) => before[part] !== after[part]);
  const criteria = (after.blocks ?? []).flatMap((b, i) =>
    (b.criteria ?? []).flatMap((c, j) => (before.blocks?.[i]?.criteria?.[j] === c ? [] : [`${i}.${j}`])),
  );
  return [...parts, ...criteria].join();
}
