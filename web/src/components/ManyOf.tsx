// Several of some names, each with how many companies have it.
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";

interface Props {
  label: string;
  chosen: string[];
  /** With how many companies each has, where that is known. */
  all: Record<string, number | null>;
  choose: (to: string[]) => void;
}

export function ManyOf({ label, chosen, all, choose }: Props) {
  return (
    <TextField
      select
      label={label}
      value={chosen}
      onChange={(e) => choose(e.target.value as unknown as string[])}
      slotProps={{ select: { multiple: true } }}
    >
      {Object.entries({ ...none(chosen), ...all }).map(([name, n]) => (
        <MenuItem key={name} value={name}>
          {n === null ? name : `${name} (${n})`}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** What was chosen and is of no company any more can still be taken out. */
const none = (chosen: string[]) => Object.fromEntries(chosen.map((name) => [name, 0]));
