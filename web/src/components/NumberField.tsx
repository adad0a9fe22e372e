// A number as one types it: percent as 9, an amount as 3.20 or 50m; empty means nothing is said. The arrow keys step it.
import InputAdornment from "@mui/material/InputAdornment";
import TextField from "@mui/material/TextField";
import type { KeyboardEvent } from "react";
import type { Unit } from "../api/client";
import { useTypedNumber } from "../headless/typedNumber";

interface Props {
  label: string;
  value: number | null | undefined;
  set: (to: number | null) => void;
  /** What it is a number of; percent is shown and typed in hundredths. */
  of?: Unit | null | undefined;
  /** What holds when nothing is said. */
  otherwise?: string;
  /** Said behind it. */
  unit?: string;
  /** Pixels, or as wide as there is room. */
  width?: number | "100%";
  disabled?: boolean;
  /** In a table, whose head says what it is. */
  bare?: boolean;
  /** Taken when one is done, rather than at each letter. */
  whenDone?: boolean;
}

export function NumberField(p: Props) {
  const of = p.of ?? "ratio";
  const number = useTypedNumber(p.value, of, p.set);
  const done = () => p.whenDone && number.take(number.text);
  const press = (e: KeyboardEvent) => {
    if (e.key === "Enter") done();
    if (e.key !== "ArrowUp" && e.key !== "ArrowDown") return;
    e.preventDefault();
    number.step(e.key === "ArrowUp" ? 1 : -1);
  };
  const behind = p.unit ?? (of === "percent" ? "%" : "");
  return (
    <TextField
      {...(p.bare ? { variant: "standard" as const } : { label: p.label })}
      value={number.text}
      disabled={p.disabled ?? false}
      error={number.problem !== null}
      helperText={number.problem}
      placeholder={p.otherwise ?? ""}
      onChange={(e) => {
        number.type(e.target.value);
        if (!p.whenDone) number.take(e.target.value);
      }}
      onBlur={done}
      onKeyDown={press}
      sx={{ width: p.width ?? 132 }}
      slotProps={{
        inputLabel: { shrink: true },
        htmlInput: { ...(p.bare && { "aria-label": p.label }), inputMode: "decimal", sx: { textAlign: "right" } },
        input: {
          // In a table there is room for the unit in every row, so that digits stand under digits.
          endAdornment: (behind || p.bare) && (
            <InputAdornment
              position="end"
              disableTypography
              sx={{ fontSize: 12, ...(p.bare && { width: 34, flexShrink: 0 }) }}
            >
              {behind}
            </InputAdornment>
          ),
        },
      }}
    />
  );
}
