import Paper from "@mui/material/Paper";
import Popper from "@mui/material/Popper";
import { useEffect, useId } from "react";
import type { Hint } from "./Hints";

export function HintPopper({ hint: { anchor, words } }: { hint: Hint }) {
  const id = useId();
  useEffect(() => {
    anchor.setAttribute("aria-describedby", id);
    return () => anchor.removeAttribute("aria-describedby");
  }, [anchor, id]);
  return (
    <Popper open anchorEl={anchor} placement="bottom-start" sx={{ zIndex: "tooltip", pointerEvents: "none" }}>
      <Paper
        id={id}
        role="tooltip"
        elevation={2}
        sx={{ px: 1, py: 0.5, maxWidth: 360, fontSize: 12, lineHeight: 1.45, mt: 0.5 }}
      >
        {words}
      </Paper>
    </Popper>
  );
}
