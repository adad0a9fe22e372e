// Offers to undo what removed something.
import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import { useUndo } from "../../headless/undo";
import { useKeys } from "../../headless/keys";

export function Undone() {
  const { offered, undo, redo, dismiss } = useUndo();
  useKeys({ "ctrl+z": undo, "ctrl+y": redo, "ctrl+shift+z": redo });
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
