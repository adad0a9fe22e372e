// A field with a list of what its words find. The list is loaded when there is nothing else to do, or somebody comes to the
// field before that.
import { lazy, type RefObject, Suspense, useEffect, useRef, useState } from "react";
import { FindInput } from "./FindInput";

const FindList = lazy(async () => ({ default: (await import("./FindList")).FindList }));

/** What can be found. */
export interface Entry {
  id: string;
  label: string;
  group: string;
  /** Said beside it. */
  hint?: string;
  /** Said below it. */
  meaning?: string;
  run: () => void;
}

export interface FindProps {
  label: string;
  placeholder: string;
  text: string;
  setText: (to: string) => void;
  entries: Entry[];
  /** What is said when nothing is found. */
  none: string;
  /** Takes what was typed as it is. */
  take?: (typed: string) => void;
  opened?: () => void;
  input?: RefObject<HTMLInputElement | null>;
}

export function FindField(p: FindProps) {
  const [wanted, setWanted] = useState<"not yet" | "at rest" | "at once">("not yet");
  const own = useRef<HTMLInputElement>(null);
  const input = p.input ?? own;
  useEffect(() => whenIdle(() => setWanted((now) => (now === "not yet" ? "at rest" : now))), []);
  const plain = (
    <FindInput
      inputRef={input}
      value={p.text}
      // What is typed while the list loads is not lost.
      onChange={(e) => p.setText(e.target.value)}
      onFocus={() => setWanted((now) => (now === "not yet" ? "at once" : now))}
      autoFocus={wanted === "at once"}
      placeholder={p.placeholder}
      inputProps={{ "aria-label": p.label }}
    />
  );
  if (wanted === "not yet") return plain;
  return (
    <Suspense fallback={plain}>
      <FindList {...p} input={input} focused={wanted === "at once"} />
    </Suspense>
  );
}

/** Does something once the page has nothing else to do; returns what calls it off. */
function whenIdle(run: () => void): () => void {
  // Not every browser tells.
  if (!("requestIdleCallback" in window)) {
    const timer = setTimeout(run, 500);
    return () => clearTimeout(timer);
  }
  const asked = requestIdleCallback(run, { timeout: 2000 });
  return () => cancelIdleCallback(asked);
}
