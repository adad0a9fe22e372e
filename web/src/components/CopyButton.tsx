// Copies a text, and says whether it was.
import Button, { type ButtonProps } from "@mui/material/Button";
import { useState } from "react";
import { copyText } from "../headless/clipboard";

interface Props extends Pick<ButtonProps, "variant" | "sx"> {
  text: string;
  label?: string;
}

export function CopyButton({ text, label = "Copy", ...look }: Props) {
  const [done, tell] = useState<{ of: string; says: string } | null>(null);
  const copy = () =>
    copyText(text).then(
      () => tell({ of: text, says: "Copied" }),
      (e: Error) => tell({ of: text, says: e.message }),
    );
  return (
    <Button {...look} onClick={() => void copy()} aria-live="polite">
      {done?.of === text ? done.says : label}
    </Button>
  );
}
