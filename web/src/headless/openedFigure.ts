// Which figure is opened lives in the address, so that going back closes it.
import { parseAsString, useQueryStates } from "nuqs";
import { useCallback } from "react";
import { STEP } from "./address";

export interface Opened {
  formula: string;
  symbol: string;
}

const FIGURE = { figure: parseAsString, of: parseAsString };

export function useOpenedFigure(): {
  opened: Opened | null;
  open: (figure: Opened) => void;
  close: () => void;
} {
  const [{ figure: formula, of: symbol }, write] = useQueryStates(FIGURE, STEP);
  const open = useCallback(({ formula, symbol }: Opened) => void write({ figure: formula, of: symbol }), [write]);
  const close = useCallback(() => void write(null), [write]);
  return { opened: formula && symbol ? { formula, symbol } : null, open, close };
}
