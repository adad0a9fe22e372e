// One of a few, by its words.
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";

interface Props {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  change: (to: string) => void;
}

export function Choice({ label, value, options, change }: Props) {
  return (
    <TextField
      select
      fullWidth
      label={label}
      value={value}
      onChange={(e) => change(e.target.value)}
      slotProps={{ htmlInput: { "aria-label": label }, select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      {options.map(([id, words]) => (
        <MenuItem key={id} value={id}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}
