// The key l on a row: its company goes onto a list.
import { useCallback } from "react";
import type { Action } from "../../headless/actions";
import { useListing } from "../../headless/listing";
import type { Marked } from "../../headless/marks";

/** `from` is what is remembered of where the company was found. */
export function useListAction(from = ""): (row: Marked) => Action[] {
  const ask = useListing((s) => s.ask);
  return useCallback(
    ({ symbol, name }) => [{ keys: "l", label: "Put the company on a list", run: () => ask([{ symbol, name }], from) }],
    [ask, from],
  );
}
