// What somebody is about to share.
import { create } from "zustand";
import type { ShareKind } from "../api/people";
import { amongSeveral } from "./presence";

interface Thing {
  kind: ShareKind;
  id: string;
  name: string;
}

interface Sharing {
  thing: Thing | null;
  close: () => void;
}

export const useSharing = create<Sharing>()((set) => ({ thing: null, close: () => set({ thing: null }) }));

/** The line of a menu that shares something; none where nobody else is. */
export const shareItem = (thing: Thing): { label: string; run: () => void }[] =>
  amongSeveral ? [{ label: "Share…", run: () => useSharing.setState({ thing }) }] : [];
