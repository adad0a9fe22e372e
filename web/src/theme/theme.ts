// MUI's theme, light and dark, by CSS variables; our own colours ride along as --a-… variables.
import { createTheme } from "@mui/material/styles";
import { type Colours, dark, light } from "./colours";

export const SERIF = '"Source Serif 4 Variable", Georgia, serif';
const SANS = '"IBM Plex Sans", system-ui, sans-serif';

const palette = (c: Colours) => ({
  palette: {
    primary: { main: c.teal },
    secondary: { main: c.brass },
    error: { main: c.clay },
    warning: { main: c.clay },
    text: { primary: c.ink, secondary: c.second },
    background: { default: c.paper, paper: c.panel },
    divider: c.hairline,
  },
});

const variables = (c: Colours) => Object.fromEntries(Object.entries(c).map(([k, v]) => [`--a-${k}`, v]));

/** One of our colours as a CSS variable. */
export const tint = (name: keyof Colours): string => `var(--a-${name})`;

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: "data" },
  colorSchemes: { light: palette(light), dark: palette(dark) },
  shape: { borderRadius: 4 },
  spacing: 8,
  typography: {
    fontFamily: SANS,
    fontSize: 13,
    h1: { fontFamily: SERIF, fontSize: 24, fontWeight: 600, lineHeight: 1.25 },
    h2: { fontFamily: SERIF, fontSize: 18, fontWeight: 600, lineHeight: 1.3 },
    h3: { fontFamily: SANS, fontSize: 13, fontWeight: 600 },
    body1: { fontSize: 14 },
    body2: { fontSize: 13 },
    caption: { fontSize: 12 },
    button: { textTransform: "none", fontWeight: 600 },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        ":root, [data-light]": variables(light),
        "[data-dark]": variables(dark),
        body: { fontVariantNumeric: "tabular-nums", overflow: "hidden" },
        "*:focus-visible": { outline: "2px solid var(--a-brass)", outlineOffset: 2 },
        "@media (prefers-reduced-motion: reduce)": {
          "*": { transition: "none !important", animation: "none !important" },
        },
      },
    },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: { defaultProps: { size: "small", disableElevation: true } },
    MuiPaper: {
      defaultProps: { elevation: 0, variant: "outlined" },
      styleOverrides: { root: { backgroundImage: "none" } },
    },
    MuiTextField: { defaultProps: { size: "small", variant: "outlined" } },
    MuiTooltip: {
      defaultProps: { arrow: false, enterDelay: 250 },
      styleOverrides: { tooltip: { fontSize: 12, lineHeight: 1.45, maxWidth: 320 } },
    },
    MuiLink: { defaultProps: { underline: "hover" } },
    MuiCheckbox: { defaultProps: { size: "small", color: "secondary" } },
    MuiSlider: { defaultProps: { size: "small", color: "secondary" } },
  },
});
