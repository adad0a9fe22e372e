// What was done lately, newest last, and what was undone: one stack for all places.
import { create } from "zustand";

/** How long changes of one thing count as one, in milliseconds: a dragged bound is undone at once. */
const TOGETHER_MS = 1000;
/** Changes that are remembered. */
const MOST = 100;

export interface Done {
  /** What was changed; changes of one thing in quick succession are one. */
  what: string;
  /** What is said of it, where something was removed. */
  removed?: string | undefined;
  undo: () => void;
  redo: () => void;
}

interface UndoStack {
  past: (Done & { at: number })[];
  future: Done[];
  /** What is offered to be undone now. */
  offered: Done | null;
  did: (done: Done) => void;
  undo: () => void;
  redo: () => void;
  dismiss: () => void;
}

export const useUndo = create<UndoStack>()((set, get) => ({
  past: [],
  future: [],
  offered: null,
  did: (done) => {
    const { past } = get();
    const at = Date.now();
    const last = past.at(-1);
    const together = last !== undefined && last.what === done.what && at - last.at < TOGETHER_MS && !done.removed;
    const entry = { ...done, at, undo: together ? last.undo : done.undo };
    const before = together ? past.slice(0, -1) : past;
    set({ past: [...before, entry].slice(-MOST), future: [], offered: done.removed ? done : null });
  },
  undo: () => {
    const { past, future } = get();
    const last = past.at(-1);
    if (!last) return;
    last.undo();
    set({ past: past.slice(0, -1), future: [...future, last], offered: null });
  },
  redo: () => {
    const { past, future } = get();
    const next = future.at(-1);
    if (!next) return;
    next.redo();
    set({ past: [...past, { ...next, at: 0 }], future: future.slice(0, -1), offered: null });
  },
  dismiss: () => set({ offered: null }),
}));
