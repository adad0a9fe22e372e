// The field with its list.
import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { RefObject } from "react";
import { tint } from "../../theme/theme";
import type { Entry, FindProps } from "./FindField";
import { FindInput } from "./FindInput";

interface Props extends FindProps {
  input: RefObject<HTMLInputElement | null>;
  /** Whether somebody is in the field already. */
  focused: boolean;
}

export function FindList(p: Props) {
  const choose = (chosen: Entry | string | null) => {
    p.setText("");
    if (typeof chosen === "string") p.take?.(chosen);
    else chosen?.run();
  };
  return (
    <Autocomplete<Entry, false, false, boolean>
      openOnFocus
      autoHighlight={!p.take}
      freeSolo={p.take !== undefined}
      fullWidth
      popupIcon={null}
      options={p.entries}
      filterOptions={(all) => all}
      groupBy={(e) => e.group}
      getOptionLabel={(e) => (typeof e === "string" ? e : e.label)}
      getOptionKey={(e) => (typeof e === "string" ? e : e.id)}
      inputValue={p.text}
      onInputChange={(_, value, why) => (why === "input" || why === "clear") && p.setText(value)}
      onOpen={() => p.opened?.()}
      value={null}
      onChange={(_, chosen) => choose(chosen)}
      noOptionsText={p.none}
      renderOption={({ key, ...props }, e) => (
        <Box component="li" key={key} {...props} sx={{ display: "block !important", py: "4px !important" }}>
          <Typography variant="body2" component="div" sx={{ display: "flex", gap: 1 }}>
            <span>{e.label}</span>
            <Box component="span" sx={{ color: tint("faint"), ml: "auto", whiteSpace: "nowrap" }}>
              {e.hint}
            </Box>
          </Typography>
          {e.meaning && (
            <Typography variant="caption" component="div" sx={{ color: tint("second") }}>
              {e.meaning}
            </Typography>
          )}
        </Box>
      )}
      slotProps={{
        paper: { sx: { width: 440 } },
        popper: { placement: "bottom-start" },
        listbox: { sx: { maxHeight: "70vh" } },
      }}
      renderInput={(params) => {
        const { ref, ...html } = params.slotProps.htmlInput;
        return (
          <FindInput
            ref={params.slotProps.input.ref}
            inputRef={(element: HTMLInputElement | null) => {
              p.input.current = element;
              if (ref && typeof ref === "object") ref.current = element;
            }}
            autoFocus={p.focused}
            placeholder={p.placeholder}
            onMouseDown={params.slotProps.input.onMouseDown}
            inputProps={{ ...html, "aria-label": p.label }}
          />
        );
      }}
    />
  );
}
