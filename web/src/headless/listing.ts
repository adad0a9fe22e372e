// Putting companies on a list: the dialog is asked for from anywhere, by key, from the tray, from a page.
import { create } from "zustand";
import type { Marked } from "./marks";

interface Listing {
  /** Who is to be put on a list, and from where they come. */
  companies: Marked[];
  from: string;
  open: boolean;
  ask: (companies: Marked[], from?: string) => void;
  close: () => void;
}

export const useListing = create<Listing>()((set) => ({
  companies: [],
  from: "",
  open: false,
  ask: (companies, from = "") => companies.length > 0 && set({ companies, from, open: true }),
  close: () => set({ open: false }),
}));
