// Offers to undo what removed something.
import { lazy, Suspense } from "react";
import { useUndo } from "../../headless/undo";
import { useActions } from "../../headless/actions";

const Offer = lazy(async () => ({ default: (await import("./Offer")).Offer }));

export function Undone() {
  const { offered, undo, redo } = useUndo();
  useActions(
    [
      { keys: "ctrl+z", label: "Undo", run: undo },
      { keys: "ctrl+y|ctrl+shift+z", label: "Redo", run: redo },
    ],
    "everywhere",
  );
  return <Suspense>{offered && <Offer />}</Suspense>;
}
