// What is said in passing at the foot of the page of work that nobody waits for: that it goes on, was done or was refused.
import { create } from "zustand";

/** Shorter work is not worth a word, in milliseconds. */
const SOON_MS = 400;

interface Notice {
  text: string;
  /** Whether it stays until something else is said. */
  stays: boolean;
}

export const useNotice = create<Notice>()(() => ({ text: "", stays: false }));

export const hush = (): void => useNotice.setState({ text: "" });

/** Says why something was refused. */
export const refused = (why: unknown): void =>
  useNotice.setState({ text: why instanceof Error ? why.message : String(why), stays: true });

/** Says what becomes of some work. */
export async function told(work: Promise<unknown>, doing = "Making the file…", done = ""): Promise<void> {
  const soon = setTimeout(() => useNotice.setState({ text: doing, stays: true }), SOON_MS);
  try {
    await work;
    clearTimeout(soon);
    // What was said of other work meanwhile stays.
    if (done || useNotice.getState().text === doing) useNotice.setState({ text: done, stays: false });
  } catch (e) {
    clearTimeout(soon);
    refused(e);
  }
}
