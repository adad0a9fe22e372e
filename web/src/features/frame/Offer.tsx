import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import { useUndo } from "../../headless/undo";

export function Offer() {
  const { offered, undo, dismiss } = useUndo();
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
