// A heading that opens what belongs to it.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { type ReactNode, useState } from "react";

interface Props {
  label: string;
  /** Open at first. */
  open?: boolean;
  children: ReactNode;
}

export function Fold({ label, open: first = false, children }: Props) {
  const [open, setOpen] = useState(first);
  return (
    <Box sx={{ mt: 1.5 }}>
      <Button onClick={() => setOpen(!open)} aria-expanded={open} sx={{ fontWeight: 600, ml: -0.75 }}>
        {open ? "▾" : "▸"} {label}
      </Button>
      {open && <Box sx={{ mt: 1 }}>{children}</Box>}
    </Box>
  );
}
