// Who runs it, and since when; below it what one thinks oneself.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { Table } from "../../components/Table";
import { day } from "../../headless/format";

export function People({ page }: { page: Schemas["CompanyPage"] }) {
  const year = Number(page.as_of.slice(0, 4));
  if (page.officers.length === 0) {
    return (
      <Typography variant="body2" color="textSecondary">
        The dataset names nobody who runs it on this date.
      </Typography>
    );
  }
  return (
    <Box sx={{ maxWidth: 620 }}>
      <Table
        label="Who runs it"
        left={[0, 1]}
        head={["Name", "Office", "Since", "Years", "Born", "Age"]}
        rows={page.officers.map((o) => ({
          key: o.name + o.role,
          cells: [
            <b key="name">{o.name}</b>,
            o.role,
            o.since ? day(o.since) : "–",
            o.years ?? "–",
            o.birth_year ?? "–",
            o.birth_year ? year - o.birth_year : "–",
          ],
        }))}
      />
    </Box>
  );
}
