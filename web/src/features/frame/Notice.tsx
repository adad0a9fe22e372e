import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import { hush, useNotice } from "../../headless/notice";

export function Notice() {
  const { text, stays } = useNotice();
  return (
    <Snackbar
      open={text !== ""}
      autoHideDuration={stays ? null : 4000}
      onClose={(_, why) => why !== "clickaway" && hush()}
      message={text}
      action={
        <Button color="inherit" onClick={hush}>
          Close
        </Button>
      }
    />
  );
}
