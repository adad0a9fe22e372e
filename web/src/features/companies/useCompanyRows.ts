// What one does with the company of a row: onto a list by the key l or dragged, an order by the key b.
import { useMemo } from "react";
import type { Action } from "../../headless/actions";
import type { Dragged } from "../../headless/dragged";
import { useListing } from "../../headless/listing";
import { type Marked, useMarks } from "../../headless/marks";
import { useOrdering } from "../../headless/ordering";

/** What a table is told; `found` is what is remembered of where the companies were found. */
export function useCompanyRows(found = "") {
  const list = useListing((s) => s.ask);
  const order = useOrdering((s) => s.ask);
  return useMemo(
    () => ({
      actions: ({ symbol, name }: Marked): Action[] => [
        { keys: "l", label: "Put the company on a list", run: () => list([{ symbol, name }], found) },
        { keys: "b", label: "Order the company's shares", run: () => order(symbol) },
      ],
      // A marked row takes the others that are marked along.
      drag: ({ symbol, name }: Marked): Dragged => {
        const { marked } = useMarks.getState();
        return { companies: marked.some((m) => m.symbol === symbol) ? marked : [{ symbol, name }], found };
      },
    }),
    [list, order, found],
  );
}
