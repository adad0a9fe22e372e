// A decision without an order: asked for from a company's page or a row.
import { create } from "zustand";
import type { Choice } from "../api/decisions";

interface Deciding {
  symbol: string | null;
  choice: Choice;
  ask: (symbol: string, choice: Choice) => void;
  close: () => void;
}

export const useDeciding = create<Deciding>()((set) => ({
  symbol: null,
  choice: "not_now",
  ask: (symbol, choice) => set({ symbol, choice }),
  close: () => set({ symbol: null }),
}));
