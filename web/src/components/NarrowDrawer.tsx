// What stands at the side of a place, and in a narrow window behind a button.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import useMediaQuery from "@mui/material/useMediaQuery";
import { lazy, type ReactNode, Suspense, useState } from "react";

const Drawer = lazy(() => import("@mui/material/Drawer"));

/** Whether there is no room at the sides of a place: a small window, or one enlarged twofold. */
export const useNarrow = (): boolean => useMediaQuery("(max-width: 1040px)", { noSsr: true });

interface Props {
  /** On the button. */
  label: string;
  anchor: "left" | "right";
  /** Pixels of the drawer. */
  width: number;
  children: ReactNode;
}

export function NarrowDrawer({ label, anchor, width, children }: Props) {
  const narrow = useNarrow();
  const [open, setOpen] = useState(false);
  if (!narrow) return children;
  return (
    <>
      <Button
        onClick={() => setOpen(true)}
        aria-expanded={open}
        sx={{ justifySelf: anchor === "left" ? "start" : "end", mx: 1 }}
      >
        {label}
      </Button>
      {/* What is inside stays there, since keys work in it. */}
      <Suspense>
        <Drawer anchor={anchor} open={open} onClose={() => setOpen(false)} keepMounted>
          <Box sx={{ width, maxWidth: "90vw", flex: 1, overflowY: "auto", display: "flex", "& > *": { flex: 1 } }}>
            {children}
          </Box>
        </Drawer>
      </Suspense>
    </>
  );
}
