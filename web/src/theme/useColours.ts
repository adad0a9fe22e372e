// The colours of the theme in use, for what is drawn and cannot read the page's variables.
import { useColorScheme } from "@mui/material/styles";
import { type Colours, dark, light } from "./colours";

export function useColours(): Colours {
  const { mode, systemMode } = useColorScheme();
  return (mode === "system" ? systemMode : mode) === "dark" ? dark : light;
}
