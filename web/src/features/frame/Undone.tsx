// Offers to undo what removed something.
import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import { useUndo } from "../../headless/undo";
import { useActions } from "../../headless/actions";

export function Undone() {
  const { offered, undo, redo, dismiss } = useUndo();
  useActions(
    [
      { keys: "ctrl+z", label: "Undo", run: undo },
      { keys: "ctrl+y|ctrl+shift+z", label: "Redo", run: redo },
    ],
    "everywhere",
  );
  return (
    <Snackbar
      open={offered !== null}
      autoHideDuration={8000}
      onClose={dismiss}
      message={offered?.removed}
      action={
        <Button color="inherit" onClick={undo}>
          Undo
        </Button>
      }
    />
  );
}
