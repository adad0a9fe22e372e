// A day: typed or picked in the form of the browser, within what is known.
import TextField from "@mui/material/TextField";
import { day } from "../headless/format";

interface Props {
  label: string;
  /** As 2026-06-30, or empty. */
  value: string;
  set: (to: string) => void;
  first: string | undefined;
  last: string | undefined;
  /** Where one begins to type. */
  focused?: boolean;
}

/** Whether a day lies outside of what is known. */
export const outside = (value: string, first: string | undefined, last: string | undefined): boolean =>
  value !== "" && ((first !== undefined && value < first) || (last !== undefined && value > last));

export function DateField({ label, value, set, first, last, focused = true }: Props) {
  const wrong = outside(value, first, last);
  return (
    <TextField
      type="date"
      label={label}
      fullWidth
      autoFocus={focused}
      value={value}
      onChange={(e) => set(e.target.value)}
      error={wrong}
      helperText={wrong && first && last ? `The data run from ${day(first)} to ${day(last)}.` : " "}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { min: first, max: last } }}
    />
  );
}
