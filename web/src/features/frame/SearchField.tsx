// Finds companies by name, symbol or ISIN.
import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import { type RefObject, useState } from "react";
import { useNavigate } from "react-router";
import { useSearch } from "../../api/queries";
import { useAddress, useAsOf } from "../../headless/asOf";
import { tint } from "../../theme/theme";

export function SearchField({ inputRef }: { inputRef: RefObject<HTMLInputElement | null> }) {
  const [text, setText] = useState("");
  const [asOf] = useAsOf();
  const found = useSearch(text, asOf);
  const navigate = useNavigate();
  const address = useAddress();
  return (
    <Autocomplete
      sx={{
        flex: "0 1 230px",
        minWidth: 120,
        "& .MuiInputBase-root": { bgcolor: "background.paper", fontSize: 13, py: "1px !important" },
      }}
      size="small"
      popupIcon={null}
      options={found.data ?? []}
      filterOptions={(all) => all}
      getOptionLabel={(c) => c.name}
      getOptionKey={(c) => c.symbol}
      inputValue={text}
      onInputChange={(_, value, why) => why !== "selectOption" && setText(value)}
      value={null}
      onChange={(_, company) => {
        if (!company) return;
        setText("");
        navigate(address(`/companies/${company.symbol}`));
        inputRef.current?.blur();
      }}
      noOptionsText={found.error ? found.error.message : "No company of this name, symbol or ISIN"}
      renderOption={({ key, ...props }, c) => (
        <Box component="li" key={key} {...props} sx={{ gap: 1, fontSize: 13 }}>
          <span style={{ fontWeight: 600 }}>{c.name}</span>
          <span style={{ color: tint("faint") }}>
            {c.symbol} · {c.sector}
            {c.listed ? "" : " · not listed"}
          </span>
        </Box>
      )}
      slotProps={{ paper: { sx: { width: 380 } }, popper: { placement: "bottom-end" } }}
      renderInput={(params) => (
        <TextField {...params} inputRef={inputRef} placeholder="Find a company   /" aria-label="Find a company" />
      )}
    />
  );
}
