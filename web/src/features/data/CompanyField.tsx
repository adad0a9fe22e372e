// A company, found by name, symbol or ISIN.
import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useCompanyNames } from "../../api/queries";

/** A company by anything that it is known by, and its name. */
export interface Chosen {
  id: string;
  name: string;
}

interface Props {
  chosen: Chosen | null;
  /** What is said while nobody is chosen. */
  hint?: string;
  choose: (to: Chosen | null) => void;
}

export function CompanyField({ chosen, hint = "", choose }: Props) {
  const [typed, type] = useState("");
  const hits = useCompanyNames(typed).data ?? [];
  const options = hits.map((h) => ({ id: h.symbol, name: h.name }));
  return (
    <Autocomplete
      size="small"
      options={typed.trim() === "" ? [] : options}
      filterOptions={(all) => all}
      value={chosen}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      getOptionLabel={(c) => c.name}
      inputValue={typed}
      onInputChange={(_, text) => type(text)}
      onChange={(_, to) => choose(to)}
      noOptionsText={typed.trim() === "" ? "Type a name, a symbol or an ISIN" : "Nobody of that name"}
      renderInput={(params) => <TextField {...params} label="Company" helperText={chosen ? "" : hint} />}
    />
  );
}
