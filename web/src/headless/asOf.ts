// The date that everything is computed as of lives in the address.
import { useCallback } from "react";
import { useSearchParams } from "react-router";

export function useAsOf(): [string | undefined, (day: string | undefined) => void] {
  const [params, setParams] = useSearchParams();
  const set = useCallback(
    (day: string | undefined) =>
      setParams((old) => {
        const next = new URLSearchParams(old);
        if (day) next.set("as_of", day);
        else next.delete("as_of");
        return next;
      }),
    [setParams],
  );
  return [params.get("as_of") ?? undefined, set];
}

/** An address that keeps the date. */
export function useAddress(): (path: string) => string {
  const [asOf] = useAsOf();
  return useCallback((path: string) => (asOf ? `${path}?as_of=${asOf}` : path), [asOf]);
}
