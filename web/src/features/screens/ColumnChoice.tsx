// Chooses the columns of the results: any measure or formula.
import Autocomplete from "@mui/material/Autocomplete";
import Popover from "@mui/material/Popover";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Measure } from "../../api/client";

export interface ColumnProps {
  columns: string[];
  measures: Measure[];
  change: (columns: string[]) => void;
}

export function ColumnChoice({
  columns,
  measures,
  change,
  anchor,
  close,
}: ColumnProps & { anchor: Element; close: () => void }) {
  const all = measures.flatMap((m) =>
    m.family === "multiples" && m.params.length === 0 ? [m.example, `own_rank(${m.id}, 10y)`] : [m.example],
  );
  return (
    <Popover
      open
      anchorEl={anchor}
      onClose={close}
      anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
      transformOrigin={{ vertical: "top", horizontal: "right" }}
      slotProps={{ paper: { sx: { p: 2, width: 492 } } }}
    >
      <Typography variant="body2" sx={{ mb: 1 }}>
        Any measure or formula, in the order of the table.
      </Typography>
      <Autocomplete
        multiple
        freeSolo
        size="small"
        options={all}
        value={columns}
        onChange={(_, next) => change([...new Set(next.map((f) => f.trim()).filter(Boolean))])}
        renderInput={(params) => <TextField {...params} label="Columns" autoFocus />}
      />
    </Popover>
  );
}
