// The order sheet: asked for from anywhere, by key, from a page, from a holding.
import { create } from "zustand";

interface Ordering {
  symbol: string | null;
  side: "buy" | "sell";
  /** The account from which it is sold; the last one used when absent. */
  account: string | undefined;
  ask: (symbol: string, side?: "buy" | "sell", account?: string) => void;
  close: () => void;
}

export const useOrdering = create<Ordering>()((set) => ({
  symbol: null,
  side: "buy",
  account: undefined,
  ask: (symbol, side = "buy", account = undefined) => set({ symbol, side, account }),
  close: () => set({ symbol: null }),
}));
