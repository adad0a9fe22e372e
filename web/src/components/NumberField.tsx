// A number as one types it: percent as 9, an amount as 3.20; empty means nothing is said.
import InputAdornment from "@mui/material/InputAdornment";
import TextField from "@mui/material/TextField";
import { useEffect, useState } from "react";

interface Props {
  label: string;
  value: number | null | undefined;
  set: (to: number | null) => void;
  /** Shown and typed in hundredths. */
  percent?: boolean;
  /** What holds when nothing is said. */
  otherwise?: string;
  unit?: string;
  width?: number;
  disabled?: boolean;
  /** In a table, whose head says what it is. */
  bare?: boolean;
}

const asTyped = (value: number | null | undefined, percent: boolean) =>
  value === null || value === undefined
    ? ""
    : String(Number((percent ? value * 100 : value).toPrecision(10))).replace("-", "\u2212");

/** The number typed, null for nothing, undefined for what is no number. */
function read(text: string, percent: boolean): number | null | undefined {
  const plain = text
    .trim()
    .replace("\u2212", "-")
    .replace(/\s|%/g, "")
    .replace(/,(?=\d+$)/, ".");
  if (plain === "") return null;
  const number = Number(plain);
  return Number.isFinite(number) ? (percent ? number / 100 : number) : undefined;
}

export function NumberField({
  label,
  value,
  set,
  percent = false,
  otherwise,
  unit,
  width = 132,
  disabled,
  bare,
}: Props) {
  const [text, setText] = useState(asTyped(value, percent));
  const [wrong, setWrong] = useState(false);
  useEffect(() => {
    setText((old) => (read(old, percent) === (value ?? null) ? old : asTyped(value, percent)));
  }, [value, percent]);
  return (
    <TextField
      {...(bare ? { variant: "standard" as const } : { label })}
      value={text}
      disabled={disabled ?? false}
      error={wrong}
      helperText={wrong ? "A number, like 7.5" : undefined}
      placeholder={otherwise ?? ""}
      onChange={(e) => {
        const typed = e.target.value;
        setText(typed);
        const number = read(typed, percent);
        setWrong(number === undefined);
        if (number !== undefined) set(number);
      }}
      sx={{ width }}
      slotProps={{
        inputLabel: { shrink: true },
        htmlInput: { ...(bare && { "aria-label": label }), inputMode: "decimal", style: { textAlign: "right" } },
        input: {
          // In a table there is room for the unit in every row, so that digits stand under digits.
          endAdornment: (percent || unit || bare) && (
            <InputAdornment
              position="end"
              disableTypography
              sx={{ fontSize: 12, ...(bare && { width: 34, flexShrink: 0 }) }}
            >
              {percent ? "%" : unit}
            </InputAdornment>
          ),
        },
      }}
    />
  );
}
