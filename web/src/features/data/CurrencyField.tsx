// A currency by its three letters, taken when there are three or when the field is left.
import TextField from "@mui/material/TextField";
import { useState } from "react";

interface Props {
  label: string;
  value: string;
  change: (to: string) => void;
}

export function CurrencyField({ label, value, change }: Props) {
  const [typed, type] = useState(value);
  const take = (code: string) => code !== value && change(code);
  const write = (text: string) => {
    type(text);
    if (text.trim().length === 3) take(text.trim());
  };
  return (
    <TextField
      label={label}
      placeholder="three letters"
      value={typed}
      onChange={(e) => write(e.target.value.toUpperCase())}
      onBlur={() => take(typed.trim())}
    />
  );
}
