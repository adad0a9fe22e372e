// Everything, or one table, out into a file in an open form.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";

type FileForm = "xlsx" | "xbrl-json";

const FORMS: Record<FileForm | "", string> = {
  "": "as a Data Package",
  xlsx: "as a workbook",
  "xbrl-json": "as xBRL-JSON",
};

export function Export({ tables }: { tables: Schemas["TableCoverage"][] }) {
  const [table, setTable] = useState("");
  const [form, setForm] = useState<FileForm | "">("");
  const filled = tables.filter((t) => t.rows > 0);
  const choose = (next: string) => {
    setTable(next);
    if (form === "xbrl-json" && next !== "statements") {
      setForm("");
    }
  };
  const query = new URLSearchParams({ ...(table && { table }), ...(form && { form }) }).toString();
  return (
    <Box component="section" sx={{ mt: 3 }}>
      <Typography variant="h2">Export</Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        Everything or one table, in open forms from which it can be read back. From the terminal as Parquet, too.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
        <Select
          size="small"
          displayEmpty
          value={table}
          onChange={(e) => choose(e.target.value)}
          inputProps={{ "aria-label": "What to export" }}
          sx={{ minWidth: 130 }}
        >
          <MenuItem value="">everything</MenuItem>
          {filled.map((t) => (
            <MenuItem key={t.table} value={t.table}>
              {t.table.replaceAll("_", " ")}
            </MenuItem>
          ))}
        </Select>
        <Select
          size="small"
          displayEmpty
          value={form}
          onChange={(e) => setForm(e.target.value)}
          inputProps={{ "aria-label": "In which form" }}
        >
          <MenuItem value="">{table ? "as CSV" : FORMS[""]}</MenuItem>
          <MenuItem value="xlsx">{FORMS.xlsx}</MenuItem>
          {table === "statements" && <MenuItem value="xbrl-json">{FORMS["xbrl-json"]}</MenuItem>}
        </Select>
        <Link href={`/api/export${query && `?${query}`}`} download sx={{ fontWeight: 600, fontSize: 13 }}>
          Save
        </Link>
      </Box>
    </Box>
  );
}
