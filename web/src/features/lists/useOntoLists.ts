// The companies of rows onto lists: by the key l, or dragged.
import { useMemo } from "react";
import type { Action } from "../../headless/actions";
import type { Dragged } from "../../headless/dragged";
import { useListing } from "../../headless/listing";
import { type Marked, useMarks } from "../../headless/marks";

/** What a table is told; `found` is what is remembered of where the companies were found. */
export function useOntoLists(found = "") {
  const ask = useListing((s) => s.ask);
  return useMemo(
    () => ({
      actions: ({ symbol, name }: Marked): Action[] => [
        { keys: "l", label: "Put the company on a list", run: () => ask([{ symbol, name }], found) },
      ],
      // A marked row takes the others that are marked along.
      drag: ({ symbol, name }: Marked): Dragged => {
        const { marked } = useMarks.getState();
        return { companies: marked.some((m) => m.symbol === symbol) ? marked : [{ symbol, name }], found };
      },
    }),
    [ask, found],
  );
}
