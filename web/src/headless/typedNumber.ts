// A number as one types it, read by the server: separators, signs, percent and short names are the same everywhere.
import { useEffect, useRef, useState } from "react";
import { api, type Unit } from "../api/client";
import { showBound } from "./criterion";

export interface TypedNumber {
  text: string;
  /** Why the text is no number. */
  problem: string | null;
  /** Keeps the text; nothing is read yet. */
  type: (text: string) => void;
  /** Reads a text; the newest one counts, whichever answer comes first. */
  take: (text: string) => void;
  /** One step up or down from what is shown. */
  step: (by: 1 | -1) => void;
}

export function useTypedNumber(
  value: number | null | undefined,
  unit: Unit | null | undefined,
  set: (to: number | null) => void,
): TypedNumber {
  const [text, setText] = useState(showBound(value, unit));
  const [problem, setProblem] = useState<string | null>(null);
  const asked = useRef(0);
  /** Whether something was typed since the last reading: a field that is only left says nothing new. */
  const unread = useRef(false);
  const read = useRef<number | null | undefined>(value ?? null);
  useEffect(() => {
    // What was typed stays as it was typed.
    if (read.current === (value ?? null)) return;
    read.current = value ?? null;
    // What is still being read came before.
    asked.current += 1;
    unread.current = false;
    setText(showBound(value, unit));
    setProblem(null);
  }, [value, unit]);
  const type = (typed: string) => {
    unread.current = true;
    setText(typed);
  };
  const take = async (typed: string) => {
    if (!unread.current) return;
    unread.current = false;
    asked.current += 1;
    const mine = asked.current;
    const answer = await api.readNumber(typed, unit).catch((e: Error) => ({ value: null, problem: e.message }));
    if (mine !== asked.current) return;
    setProblem(answer.problem ?? null);
    if (answer.problem || (answer.value ?? null) === read.current) return;
    read.current = answer.value ?? null;
    set(answer.value ?? null);
  };
  const step = (by: 1 | -1) => {
    const shown = Number(showBound(read.current, unit));
    const next = String(Number((shown + by * stepOf(shown, unit)).toPrecision(8)));
    type(next);
    void take(next);
  };
  return { text, problem, type, take, step };
}

/** A step that changes the second digit: 1 for 25, 100 for 1,200, 0.01 for 0.35; of what is counted a whole one. */
function stepOf(shown: number, unit: Unit | null | undefined): number {
  const least = unit === "count" || unit === "rank" || unit === "days" ? 1 : 0;
  return Math.max(shown === 0 ? 1 : 10 ** (Math.floor(Math.log10(Math.abs(shown))) - 1), least);
}
