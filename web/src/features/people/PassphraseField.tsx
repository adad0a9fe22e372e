// A passphrase as it is typed: hidden, unless one wants to see it. Whatever keeps passphrases may fill it in.
import Button from "@mui/material/Button";
import InputAdornment from "@mui/material/InputAdornment";
import TextField from "@mui/material/TextField";
import { type ReactNode, useState } from "react";

interface Props {
  label: string;
  value: string;
  set: (value: string) => void;
  /** Whether it is one that is chosen now. */
  fresh?: boolean;
  help?: ReactNode;
  problem?: string | undefined;
  autoFocus?: boolean;
}

export function PassphraseField({ label, value, set, fresh = false, help, problem, autoFocus = false }: Props) {
  const [seen, see] = useState(false);
  return (
    <TextField
      label={label}
      type={seen ? "text" : "password"}
      value={value}
      onChange={(e) => set(e.target.value)}
      required
      fullWidth
      margin="dense"
      autoFocus={autoFocus}
      error={problem !== undefined}
      helperText={problem ?? help}
      slotProps={{
        htmlInput: { autoComplete: fresh ? "new-password" : "current-password", spellCheck: false },
        input: {
          endAdornment: (
            <InputAdornment position="end">
              <Button onClick={() => see(!seen)} aria-pressed={seen} sx={{ minWidth: 0 }}>
                {seen ? "Hide" : "Show"}
              </Button>
            </InputAdornment>
          ),
        },
      }}
    />
  );
}
