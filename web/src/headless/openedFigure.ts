// Which figure is opened lives in the address, so that going back closes it.
import { parseAsString, useQueryStates } from "nuqs";
import { createContext, useCallback, useContext } from "react";
import { STEP } from "./address";

export interface Opened {
  formula: string;
  symbol: string;
}

type Open = (figure: Opened) => void;

const FIGURE = { figure: parseAsString, of: parseAsString };

export function useOpenedFigure(): { opened: Opened | null; open: Open; close: () => void } {
  const [{ figure: formula, of: symbol }, write] = useQueryStates(FIGURE, STEP);
  const open = useCallback<Open>(({ formula, symbol }) => void write({ figure: formula, of: symbol }), [write]);
  const close = useCallback(() => void write(null), [write]);
  return { opened: formula && symbol ? { formula, symbol } : null, open, close };
}

/** Opens a figure; given by the frame, so that a figure need not follow the address. */
export const OpenFigure = createContext<Open>(() => undefined);

export const useOpenFigure = (): Open => useContext(OpenFigure);
