// The date that everything is computed as of lives in the address.
import { parseAsString, useQueryState } from "nuqs";
import { useCallback } from "react";
import { STEP } from "./address";

const day = parseAsString.withOptions(STEP);

export function useAsOf(): [string | undefined, (day: string | undefined) => void] {
  const [asOf, write] = useQueryState("as_of", day);
  return [asOf ?? undefined, useCallback((to) => void write(to ?? null), [write])];
}

/** An address that keeps the date. */
export function useAddress(): (path: string) => string {
  const [asOf] = useAsOf();
  return useCallback((path: string) => (asOf ? `${path}${path.includes("?") ? "&" : "?"}as_of=${asOf}` : path), [asOf]);
}
