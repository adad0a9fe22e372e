// All listed companies, largest first: a way in for those who do not know a name.
import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useMemo, useState } from "react";
import type { Screen, ScreenRow } from "../../api/client";
import { useMeasures, useScreen, useScreenRows } from "../../api/queries";
import { Empty, Failed, Loading } from "../../components/States";
import { DataTable } from "../../components/table/DataTable";
import type { SortBy } from "../../components/table/model";
import { useAsOf } from "../../headless/asOf";
import { plain } from "../../headless/format";
import { useCompanyMarks } from "../../headless/marks";
import { NO_MEASURES, useResultColumns } from "../screens/resultColumns";
import { useOpenCompany } from "./open";

const COLUMNS = ["sector", "industry", "country", "market_cap", "price", "pe", "net_margin"];
const LARGEST: SortBy[] = [{ id: "market_cap", desc: true }];

export function Directory() {
  const [asOf] = useAsOf();
  const [text, setText] = useState("");
  const [sort, setSort] = useState(LARGEST);
  const screen = useMemo<Screen>(
    () => ({
      name: "",
      columns: COLUMNS,
      blocks: [],
      sort: sort.map((s) => ({ formula: s.id, descending: s.desc })),
      ...(asOf && { as_of: asOf }),
    }),
    [asOf, sort],
  );
  const answer = useScreen(screen);
  const rows = useScreenRows(screen, answer.data?.survivors ?? 0, text);
  const columns = useResultColumns(answer.data?.columns ?? NO_COLUMNS, useMeasures().data ?? NO_MEASURES);
  const marks = useCompanyMarks<ScreenRow>();
  const open = useOpenCompany(screen);
  useEffect(() => {
    document.title = "Companies – Artemon";
  }, []);
  if (answer.error) return <Failed error={answer.error} retry={() => answer.refetch()} />;
  if (!answer.data) return <Loading rows={14} />;
  const all = `${plain(answer.data.survivors, 0)} listed companies, funds left out`;
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column", gap: 1.5, px: 2.5, py: 1.5 }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 3, flexWrap: "wrap" }}>
        <Typography variant="h1">Companies</Typography>
        <TextField
          placeholder="Narrow by name, sector, industry"
          value={text}
          onChange={(e) => setText(e.target.value)}
          sx={{ width: 300 }}
          slotProps={{ htmlInput: { "aria-label": "Narrow the list" } }}
        />
        <Typography variant="body2" color="text.secondary" aria-live="polite">
          {text.trim() ? `${plain(rows.count, 0)} of the ${all}` : all}
        </Typography>
      </Box>
      <DataTable
        name="companies"
        label="Companies"
        columns={columns}
        rows={rows}
        sort={sort}
        setSort={setSort}
        marks={marks}
        open={open}
        testId="company-row"
        empty={<Empty title="No company of this name here">Search all of them with / at the top.</Empty>}
        sx={{ flex: 1 }}
      />
    </Box>
  );
}

const NO_COLUMNS: never[] = [];
