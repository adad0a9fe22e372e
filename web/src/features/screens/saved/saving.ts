// Keeps screens: a new one, the next version of one, a copy; deletes and restores.
import { useQueryClient } from "@tanstack/react-query";
import { api, type Schemas, type Screen } from "../../../api/client";
import { useDocumentsChange } from "../../../api/queries";
import { useUndo } from "../../../headless/undo";

export type Kept = Schemas["DocumentEntry"];

/** How a screen is kept beside its contents. */
export interface Naming {
  name: string;
  folder: string;
  note: string;
}

export const fileOf = (screen: Screen, { name, folder, note }: Naming): Schemas["DocumentFile"] => {
  const { as_of: _, ...body } = { ...screen, name };
  return { kind: "screen", name, folder, note, body };
};

/** A screen is kept as a new document, or as the next version of one. */
export function useSave() {
  const client = useQueryClient();
  return useDocumentsChange(
    async ({ to, file }: { to: { doc: string; version: number } | null; file: Schemas["DocumentFile"] }) => {
      const kept = await (to ? api.saveDocument(to.doc, to.version, file) : api.addDocument(file));
      // What is on the page is what was kept, before the list comes anew.
      const version = { version: kept.version, note: kept.note, saved_at: kept.saved_at };
      client.setQueryData(["document", kept.id], (old: Schemas["DocumentAnswer"] | undefined) => ({
        ...kept,
        body: file.body,
        versions: [...(old?.versions ?? []), version],
      }));
      return kept;
    },
  );
}

/** Deletes a screen, which is offered to be undone. */
export function useDelete(failed: (why: Error) => void) {
  const did = useUndo((s) => s.did);
  const remove = useDocumentsChange(api.deleteDocument);
  const restore = useDocumentsChange(api.restoreDocument);
  // Told when it is done, also where what asked for it is gone by then.
  return (kept: Pick<Kept, "id" | "name">) =>
    void remove.mutateAsync(kept.id).then(
      () =>
        did({
          what: `document ${kept.id}`,
          removed: `"${kept.name}" deleted`,
          undo: () => restore.mutate(kept.id),
          redo: () => remove.mutate(kept.id),
        }),
      failed,
    );
}

/** A name that none of these has. */
export function freeName(name: string, taken: Kept[]): string {
  const names = new Set(taken.map((k) => k.name));
  let next = name;
  for (let i = 2; names.has(next); i += 1) next = `${name} ${i}`;
  return next;
}
