// Who is signed in, on a server of several people; whether the session has ended; and the passphrase that is asked for again.
import { create } from "zustand";
import { onSessionEnd, Refusal } from "../api/client";

/** Whether several people use this server: the page says so. */
export const amongSeveral = document.querySelector<HTMLMetaElement>("meta[name=people]")?.content === "several";

/** Whoever was here last in this browser. What they left in it is not for somebody else. */
const LAST = "artemon.person";

interface Presence {
  /** Whether the session has ended while the page is open. */
  ended: boolean;
  /** Answers once the passphrase was typed again, with whether it was. */
  asked: ((typed: boolean) => void) | null;
}

export const usePresence = create<Presence>()(() => ({ ended: false, asked: null }));

onSessionEnd(() => usePresence.setState({ ended: amongSeveral }));

/** Somebody has come in: what somebody else left in this browser goes. Says whether the page must begin anew. */
export function cameIn(name: string): boolean {
  const other = localStorage.getItem(LAST) !== name;
  if (other) forget();
  localStorage.setItem(LAST, name);
  usePresence.setState({ ended: false });
  return other;
}

/** Forgets what the browser keeps of whoever was here. */
export function forget(): void {
  localStorage.clear();
  sessionStorage.clear();
}

/** Does what asks for the passphrase again first, where it was not typed a moment ago. */
export async function confirmed<T>(act: () => Promise<T>): Promise<T> {
  try {
    return await act();
  } catch (e) {
    if (!(e instanceof Refusal && e.kind === "confirm-first")) throw e;
    const typed = await new Promise<boolean>((asked) => usePresence.setState({ asked }));
    if (!typed) throw e;
    return act();
  }
}
