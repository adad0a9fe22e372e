// A button with a menu. The menu is loaded when somebody first opens one.
import Button from "@mui/material/Button";
import { lazy, Suspense, useState } from "react";
import type { SxProps } from "@mui/material/styles";

const OpenMenu = lazy(async () => ({ default: (await import("./OpenMenu")).OpenMenu }));

export interface Item {
  label: string;
  /** Said below it. */
  meaning?: string;
  chosen?: boolean;
  run: () => void;
}

interface MenuProps {
  anchor: Element | null;
  items: Item[];
  close: () => void;
}

/** A menu at an element, while there is one. */
export function PopMenu({ anchor, items, close }: MenuProps) {
  return <Suspense>{anchor && <OpenMenu anchor={anchor} items={items} close={close} />}</Suspense>;
}

interface ButtonProps {
  label: string;
  /** What it is for, where the label is only the choice made. */
  means?: string;
  items: Item[];
  sx?: SxProps;
}

export function MenuButton({ label, means, items, sx }: ButtonProps) {
  const [anchor, setAnchor] = useState<Element | null>(null);
  return (
    <>
      <Button
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        aria-label={means && `${means}: ${label}`}
        onClick={(e) => setAnchor(e.currentTarget)}
        {...(sx && { sx })}
      >
        {label}
      </Button>
      <PopMenu anchor={anchor} items={items} close={() => setAnchor(null)} />
    </>
  );
}
