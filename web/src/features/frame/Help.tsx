// All shortcuts.
import Box from "@mui/material/Box";
import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";

const KEYS = [
  ["g s", "Screens"],
  ["g c", "Candidates"],
  ["g o", "Companies"],
  ["g d", "Data"],
  ["g h", "Guide: measures and formulas"],
  ["g a", "Assumptions"],
  ["/ or Ctrl K", "find a company"],
  ["t", "set the date back"],
  ["c", "add a criterion (Screens)"],
  ["j k", "next and previous row, or company"],
  ["x", "mark the company"],
  ["v", "change the view (Candidates)"],
  ["o", "open the company of the row"],
  ["arrows, Page, Home, End", "walk the cells of a table that has the focus; with Shift choose rows"],
  ["Enter", "open the cell: a company, or a figure"],
  ["Space", "mark the chosen rows"],
  ["Ctrl C", "copy the chosen rows for a spreadsheet"],
  ["↓ on a header", "sort, move, widen, pin or hide the column"],
  ["Ctrl Z, Ctrl Y", "undo, and do again"],
  ["← →", "move a bound or a slider that has the focus"],
  ["?", "this list"],
];

export function Help({ open, close }: { open: boolean; close: () => void }) {
  return (
    <Dialog open={open} onClose={close}>
      <DialogTitle>Shortcuts</DialogTitle>
      <DialogContent>
        <Box component="dl" sx={{ display: "grid", gridTemplateColumns: "190px 1fr", gap: 1, m: 0, minWidth: 360 }}>
          {KEYS.map(([key, what]) => (
            <Box key={key} sx={{ display: "contents" }}>
              <Typography component="dt" sx={{ fontWeight: 600 }}>
                {key}
              </Typography>
              <Typography component="dd" sx={{ m: 0 }}>
                {what}
              </Typography>
            </Box>
          ))}
        </Box>
      </DialogContent>
    </Dialog>
  );
}
