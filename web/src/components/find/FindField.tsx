// A field with a list of what its words find. The list is loaded when somebody first comes to the field.
import { lazy, type RefObject, Suspense, useRef, useState } from "react";
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
  const [came, setCame] = useState(false);
  const own = useRef<HTMLInputElement>(null);
  const input = p.input ?? own;
  const plain = (
    <FindInput
      inputRef={input}
      value={p.text}
      // What is typed while the list loads is not lost.
      onChange={(e) => p.setText(e.target.value)}
      onFocus={() => setCame(true)}
      autoFocus={came}
      placeholder={p.placeholder}
      inputProps={{ "aria-label": p.label }}
    />
  );
  if (!came) return plain;
  return (
    <Suspense fallback={plain}>
      <FindList {...p} input={input} />
    </Suspense>
  );
}
