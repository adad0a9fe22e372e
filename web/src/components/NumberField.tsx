// A number as one types it: percent as 9, an amount as 3.20; empty means nothing is said.
import InputAdornment from "@mui/material/InputAdornment";
import TextField from "@mui/material/TextField";
import { useTypedNumber } from "../headless/typedNumber";

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
  const number = useTypedNumber(value, percent ? "percent" : "ratio", set);
  return (
    <TextField
      {...(bare ? { variant: "standard" as const } : { label })}
      value={number.text}
      disabled={disabled ?? false}
      error={number.problem !== null}
      helperText={number.problem}
      placeholder={otherwise ?? ""}
      onChange={(e) => {
        number.type(e.target.value);
        number.take(e.target.value);
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
