// Shortcuts with what they do.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { type Action, keysInWords } from "../headless/actions";

export type KeyAndWords = [string, string];

/** What the controls themselves do with keys. */
export const CONTROL_KEYS: KeyAndWords[] = [
  ["arrows, Page, Home, End", "walk the cells of a table; with Shift select rows"],
  ["Enter", "open the cell: a company, or a figure"],
  ["Space", "mark the selected rows"],
  ["Ctrl C", "copy the selected rows for a spreadsheet"],
  ["↓ on a header", "sort, group, move, widen, pin or hide the column"],
  ["← →", "move a bound or a slider"],
];

/** The keys of actions that have one. */
export const keysOf = (actions: Action[]): KeyAndWords[] =>
  actions.flatMap((a) => (a.keys && a.label ? [[keysInWords(a.keys), a.label] as KeyAndWords] : []));

export function KeyList({ title, keys }: { title: string; keys: KeyAndWords[] }) {
  if (keys.length === 0) return null;
  return (
    <Box>
      <Typography variant="h3" component="h2" sx={{ mb: 0.5 }}>
        {title}
      </Typography>
      <Box component="dl" sx={{ display: "grid", gridTemplateColumns: "130px 1fr", rowGap: 0.5, columnGap: 1, m: 0 }}>
        {keys.map(([key, what]) => (
          <Box key={key} sx={{ display: "contents" }}>
            <Typography component="dt" variant="body2" sx={{ fontWeight: 600 }}>
              {key}
            </Typography>
            <Typography component="dd" variant="body2" sx={{ m: 0 }}>
              {what}
            </Typography>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
