// MUI's theme, light and dark, by CSS variables; our own colours ride along as --a-… variables.
import { createTheme } from "@mui/material/styles";
import { type Colours, dark, light } from "./colours";

/** Sentences of judgement, figures that stand out, and the one figure that a view is about. */
type OurVariant = "sentence" | "figure" | "largeFigure";

declare module "@mui/material/styles" {
  interface TypographyVariants extends Record<OurVariant, React.CSSProperties> {}
  interface TypographyVariantsOptions extends Record<OurVariant, React.CSSProperties> {}
}
declare module "@mui/material/Typography" {
  interface TypographyPropsVariantOverrides extends Record<OurVariant, true> {}
}

export const SERIF = '"Source Serif 4 Variable", Georgia, serif';
const SANS = '"IBM Plex Sans", system-ui, sans-serif';

const palette = (c: Colours) => ({
  palette: {
    primary: { main: c.teal },
    secondary: { main: c.brass },
    error: { main: c.clay },
    warning: { main: c.clay },
    text: { primary: c.ink, secondary: c.second, disabled: c.faint },
    background: { default: c.paper, paper: c.panel },
    divider: c.hairline,
  },
});

const variables = (c: Colours) => Object.fromEntries(Object.entries(c).map(([k, v]) => [`--a-${k}`, v]));

/** One of our colours as a CSS variable. */
export const tint = (name: keyof Colours): string => `var(--a-${name})`;

/** What words within a text or a cell look like, by class: a word needs no component of its own. */
const WORDS = {
  ".ink": { color: tint("ink") },
  ".second": { color: tint("second") },
  ".faint": { color: tint("faint") },
  ".teal": { color: tint("teal") },
  ".clay": { color: tint("clay") },
  ".brass": { color: tint("brass") },
  ".light": { fontWeight: 400 },
  ".strong": { fontWeight: 600 },
  ".small": { fontSize: 12 },
  ".serif": { fontFamily: SERIF },
  ".nowrap": { whiteSpace: "nowrap" },
  ".right": { textAlign: "right" },
  // For who has it read out.
  ".unseen": {
    position: "absolute",
    width: 1,
    height: 1,
    overflow: "hidden",
    clipPath: "inset(50%)",
    whiteSpace: "nowrap",
  },
  ".anywhere": { overflowWrap: "anywhere" },
};

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
    h4: { fontFamily: SERIF, fontSize: 16, fontWeight: 600, lineHeight: 1.25 },
    sentence: { fontFamily: SERIF, fontSize: 16 },
    figure: { fontFamily: SERIF, fontSize: 22, fontWeight: 600, lineHeight: 1.1 },
    largeFigure: { fontFamily: SERIF, fontSize: 30, fontWeight: 600, lineHeight: 1.1 },
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
        ...WORDS,
        "@media print": { body: { overflow: "visible" }, ".not-on-paper": { display: "none !important" } },
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
    MuiTypography: { defaultProps: { variantMapping: { sentence: "p", figure: "span", largeFigure: "span" } } },
    MuiLink: { defaultProps: { underline: "hover" } },
    MuiCheckbox: { defaultProps: { size: "small", color: "secondary" } },
    MuiSlider: { defaultProps: { size: "small", color: "secondary" } },
  },
});
