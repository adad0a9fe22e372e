// The foot of the page: offers to undo what removed something, and says what became of work that nobody waits for.
import { lazy, Suspense } from "react";
import { useActions } from "../../headless/actions";
import { useNotice } from "../../headless/notice";
import { useUndo } from "../../headless/undo";

const Offer = lazy(async () => ({ default: (await import("./Offer")).Offer }));
const Notice = lazy(async () => ({ default: (await import("./Notice")).Notice }));

export function Undone() {
  const { offered, undo, redo } = useUndo();
  const said = useNotice((s) => s.text);
  useActions(
    [
      { keys: "ctrl+z", label: "Undo", run: undo },
      { keys: "ctrl+y|ctrl+shift+z", label: "Redo", run: redo },
    ],
    "everywhere",
  );
  return (
    <Suspense>
      {offered && <Offer />}
      {said && <Notice />}
    </Suspense>
  );
}
