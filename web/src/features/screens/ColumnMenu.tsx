// Chooses the columns of the results.
import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Measure } from "../../api/client";

export function ColumnMenu({
  columns,
  measures,
  change,
}: {
  columns: string[];
  measures: Measure[];
  change: (columns: string[]) => void;
}) {
  const [anchor, setAnchor] = useState<Element | null>(null);
  const all = measures.flatMap((m) =>
    m.family === "multiples" && m.params.length === 0 ? [m.example, `own_rank(${m.id}, 10y)`] : [m.example],
  );
  return (
    <>
      <Button onClick={(e) => setAnchor(e.currentTarget)}>Columns</Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
      >
        <Box sx={{ p: 2, width: 460 }}>
          <Typography variant="body2" sx={{ mb: 1 }}>
            Any measure or formula; their order is that of the table.
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
        </Box>
      </Popover>
    </>
  );
}
