// Which figure is opened lives in the address, so that going back closes it.
import { useCallback } from "react";
import { useSearchParams } from "react-router";

export interface Opened {
  formula: string;
  symbol: string;
}

export function useOpenedFigure(): {
  opened: Opened | null;
  open: (figure: Opened) => void;
  close: () => void;
} {
  const [params, setParams] = useSearchParams();
  const formula = params.get("figure");
  const symbol = params.get("of");
  const open = useCallback(
    ({ formula, symbol }: Opened) =>
      setParams((old) => {
        const next = new URLSearchParams(old);
        next.set("figure", formula);
        next.set("of", symbol);
        return next;
      }),
    [setParams],
  );
  const close = useCallback(
    () =>
      setParams((old) => {
        const next = new URLSearchParams(old);
        next.delete("figure");
        next.delete("of");
        return next;
      }),
    [setParams],
  );
  return { opened: formula && symbol ? { formula, symbol } : null, open, close };
}
