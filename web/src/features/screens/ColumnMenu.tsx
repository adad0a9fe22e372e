// The button that opens the choice of columns.
import Button from "@mui/material/Button";
import { lazy, Suspense, useRef, useState } from "react";
import { useActions } from "../../headless/actions";
import type { ColumnProps } from "./ColumnChoice";

const ColumnChoice = lazy(async () => ({ default: (await import("./ColumnChoice")).ColumnChoice }));

export function ColumnMenu(p: ColumnProps) {
  const button = useRef<HTMLButtonElement>(null);
  const [open, setOpen] = useState(false);
  useActions([{ label: "Choose the columns", run: () => setOpen(true) }]);
  return (
    <>
      <Button ref={button} onClick={() => setOpen(true)}>
        Columns
      </Button>
      <Suspense>
        {open && button.current && <ColumnChoice {...p} anchor={button.current} close={() => setOpen(false)} />}
      </Suspense>
    </>
  );
}
