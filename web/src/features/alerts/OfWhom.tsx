// Whom an alert looks at: all one follows, a list, whoever passes a screen, or single companies.
import Autocomplete from "@mui/material/Autocomplete";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useLists } from "../../api/following";
import { useSearch } from "../../api/queries";

type Of = Schemas["AlertOf"];

interface Props {
  of: Of | undefined;
  screens: { id: string; name: string }[];
  set: (of: Of) => void;
}

export function OfWhom({ of, screens, set }: Props) {
  const lists = useLists().data ?? [];
  const value =
    !of || of.kind === "followed"
      ? "followed"
      : of.kind === "companies"
        ? "companies"
        : `${of.kind} ${of.kind === "list" ? of.list : of.screen}`;
  const choose = (chosen: string) => {
    const [kind = "", id = ""] = chosen.split(" ");
    if (kind === "list") set({ kind, list: id });
    else if (kind === "screen") set({ kind, screen: id });
    else if (kind === "companies") set({ kind, companies: [] });
    else set({ kind: "followed" });
  };
  return (
    <>
      <TextField select label="Of" value={value} onChange={(e) => choose(e.target.value)}>
        <MenuItem value="followed">everybody I follow</MenuItem>
        {lists.map((l) => (
          <MenuItem key={l.id} value={`list ${l.id}`}>
            the list {l.name}
          </MenuItem>
        ))}
        {screens.map((s) => (
          <MenuItem key={s.id} value={`screen ${s.id}`}>
            whoever passes {s.name}
          </MenuItem>
        ))}
        <MenuItem value="companies">these companies…</MenuItem>
      </TextField>
      {of?.kind === "companies" && (
        <Companies chosen={of.companies} set={(companies) => set({ kind: "companies", companies })} />
      )}
    </>
  );
}

type Known = Schemas["KnownCompany"];

function Companies({ chosen, set }: { chosen: Known[]; set: (to: Known[]) => void }) {
  const [typed, type] = useState("");
  const hits = useSearch(typed).data ?? [];
  const options = hits.map((h): Known => ({ id: h.symbol, symbol: h.symbol, isin: h.isin, name: h.name }));
  return (
    <Autocomplete
      multiple
      size="small"
      options={typed.trim() === "" ? [] : options}
      filterOptions={(all) => all}
      value={chosen}
      isOptionEqualToValue={(a, b) => a.symbol === b.symbol}
      getOptionLabel={(c) => `${c.name} ${c.symbol}`}
      inputValue={typed}
      onInputChange={(_, text) => type(text)}
      onChange={(_, to) => set(to)}
      noOptionsText={typed.trim() === "" ? "Type a name, a symbol or an ISIN" : "Nobody of that name"}
      renderInput={(params) => <TextField {...params} label="Companies" />}
    />
  );
}
