// What one does with lists, each undone by one step.
import { useMemo } from "react";
import { api, type Schemas } from "../../api/client";
import { lists, useListChange } from "../../api/following";
import { useUndo } from "../../headless/undo";

/** A name with a number in words enough: "3 companies". */
export const companies = (n: number): string => (n === 1 ? "One company" : `${n} companies`);

export function useListWork(failed: (why: Error) => void) {
  const did = useUndo((s) => s.did);
  const { mutateAsync: run } = useListChange((work: () => Promise<unknown>) => work());
  return useMemo(() => {
    const then = (work: () => Promise<unknown>) => void run(work).catch(failed);
    const add = async (
      id: string,
      name: string,
      symbols: string[],
      from = "",
      own: { note: string; price: number | null }[] = [],
    ) => {
      let put: string[] = [];
      await run(async () => {
        put = (await lists.add(id, { symbols, from, own })).added;
      });
      did({
        what: `list ${id}`,
        removed: put.length > 0 ? `${companies(put.length)} on ${name}` : `Already on ${name}`,
        undo: () => then(() => lists.remove(id, put)),
        redo: () => then(() => lists.add(id, { symbols, from, own })),
      });
    };
    const remove = (id: string, name: string, symbols: string[]) => {
      let version = 0;
      void run(async () => {
        version = (await lists.remove(id, symbols)).before;
      }).then(
        () =>
          did({
            what: `list ${id}`,
            removed: `${companies(symbols.length)} taken off ${name}`,
            undo: () => then(() => lists.restore(id, { version, symbols })),
            redo: () => then(() => lists.remove(id, symbols)),
          }),
        failed,
      );
    };
    const move = (from: string, to: { id: string; name: string }, symbols: string[], copy: boolean) => {
      let moved: Schemas["Moved"] | undefined;
      // Who was on both lists before is on both again, each with what was said of it there.
      const back = async () => {
        if (typeof moved?.left === "number") await lists.restore(from, { version: moved.left, symbols });
        await lists.remove(to.id, moved?.added ?? []);
      };
      void run(async () => {
        moved = await lists.move({ from, to: to.id, symbols, copy });
      }).then(
        () =>
          did({
            what: `list ${to.id}`,
            removed: `${companies(symbols.length)} ${copy ? "copied" : "moved"} to ${to.name}`,
            undo: () => then(back),
            redo: () => then(() => lists.move({ from, to: to.id, symbols, copy })),
          }),
        failed,
      );
    };
    const make = async (name: string, folder: string) => {
      const body = { members: [], columns: [] };
      const made = await api.addDocument({ kind: "list", name, folder, note: "", body });
      await run(async () => made);
      return made.id;
    };
    const drop = (id: string, name: string) =>
      void run(() => api.deleteDocument(id)).then(
        () =>
          did({
            what: `list ${id}`,
            removed: `"${name}" deleted`,
            undo: () => then(() => api.restoreDocument(id)),
            redo: () => then(() => api.deleteDocument(id)),
          }),
        failed,
      );
    const rename = async (id: string, name: string, folder: string) => {
      const found = await api.document(id);
      const { kind, note } = found;
      await run(() => api.saveDocument(id, found.version, { kind, note, name, folder, body: found.body }));
    };
    const columns = async (id: string, formulas: string[]) => {
      const found = await api.document(id);
      const { kind, note, name, folder } = found;
      const body = { ...(found.body as object), columns: formulas };
      await run(() => api.saveDocument(id, found.version, { kind, note, name, folder, body }));
    };
    const order = (id: string, symbols: string[]) => then(() => lists.order(id, symbols));
    const say = (id: string, symbol: string, own: { note: string; price: number | null }) =>
      run(() => lists.say(id, symbol, own));
    const judge = (symbol: string, soundness: number | null, reason: string) =>
      run(() => lists.judge(symbol, { soundness, reason }));
    return { add, remove, move, make, drop, rename, columns, order, say, judge };
  }, [run, did, failed]);
}

export type ListWork = ReturnType<typeof useListWork>;
