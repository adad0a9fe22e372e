// Which question is in view: stepping to the next company stays with it.
import { useCallback, useEffect, useRef, useState } from "react";

/** The question that was in view when one stepped on; it is taken up once. */
let kept: string | null = null;

export const keepQuestion = (id: string) => {
  kept = id;
};

/** The question with which the page begins: the one kept, until it is shown. */
export const keptQuestion = (): string | null => kept;

/** Pixels below the top at which a section counts as in view. */
const REACHED = 90;
/** Pixels from the end that count as the end. */
const END = 4;

export function useQuestion() {
  const box = useRef<HTMLDivElement>(null);
  const [question, setQuestion] = useState("");
  const go = useCallback(
    (id: string) => box.current?.querySelector(`#q-${id}`)?.scrollIntoView({ block: "start" }),
    [],
  );

  useEffect(() => {
    const centre = box.current;
    if (!centre) return;
    const look = () => {
      const top = centre.getBoundingClientRect().top + REACHED;
      const sections = [...centre.querySelectorAll<HTMLElement>("[data-question]")];
      // What comes last may never reach the top.
      const ended = centre.scrollTop + centre.clientHeight >= centre.scrollHeight - END;
      const above = sections.findLast((s) => s.getBoundingClientRect().top <= top) ?? sections[0];
      const reached = ended && centre.scrollTop > 0 ? sections.at(-1) : above;
      setQuestion(reached?.getAttribute("data-question") ?? "");
    };
    if (kept) go(kept);
    kept = null;
    look();
    centre.addEventListener("scroll", look, { passive: true });
    return () => centre.removeEventListener("scroll", look);
  }, [go]);

  return { box, question, go };
}
