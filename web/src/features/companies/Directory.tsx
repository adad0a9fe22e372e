// All listed companies, largest first: a way in for those who do not know a name.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useMemo, useState } from "react";
import { api, type Screen, type ScreenRow } from "../../api/client";
import { useMeasures, useScreen, useScreenRows } from "../../api/queries";
import { Empty, Failed, LoadingTable } from "../../components/States";
import { DataTable } from "../../components/table/DataTable";
import { GroupBy, useGroupBy } from "../../components/table/GroupBy";
import type { SortBy } from "../../components/table/model";
import { useAsOf } from "../../headless/asOf";
import { told } from "../../headless/notice";
import { plain } from "../../headless/format";
import { useCompanyMarks } from "../../headless/marks";
import { useMedians } from "../screens/medians";
import { NO_MEASURES, useResultColumns } from "../screens/resultColumns";
import { useOpenCompany } from "./open";
import { useCompanyRows } from "./useCompanyRows";

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
  const [group, setGroup] = useGroupBy();
  const list = useMemo(() => ({ screen, text, group }), [screen, text, group]);
  const rows = useScreenRows(list, answer.data?.answer.survivors ?? 0);
  const infos = answer.data?.answer.columns ?? NO_COLUMNS;
  const { groups, foot } = useMedians(list, infos);
  const columns = useResultColumns(infos, useMeasures().data ?? NO_MEASURES);
  const marks = useCompanyMarks<ScreenRow>();
  const companyRows = useCompanyRows("Companies");
  const open = useOpenCompany(list);
  useEffect(() => {
    document.title = "Companies – Artemon";
  }, []);
  if (answer.error) return <Failed error={answer.error} retry={() => answer.refetch()} />;
  if (!answer.data) return <LoadingTable rows={20} />;
  const all = `${plain(answer.data.answer.survivors, 0)} listed companies, funds left out`;
  return (
    <Box
      sx={{ height: "100%", display: "flex", flexDirection: "column", gap: 1.5, overflowY: "auto", px: 2.5, py: 1.5 }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 3, flexWrap: "wrap" }}>
        <Typography variant="h1">Companies</Typography>
        <TextField
          placeholder="Narrow by name, sector, industry"
          value={text}
          onChange={(e) => setText(e.target.value)}
          sx={{ width: 300 }}
          slotProps={{ htmlInput: { "aria-label": "Narrow the list" } }}
        />
        <Typography variant="body2" color="textSecondary" aria-live="polite">
          {text.trim() ? `${plain(rows.count, 0)} of the ${all}` : all}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <GroupBy group={group} set={setGroup} />
        <Button onClick={() => void told(api.exportScreen(list, "csv"))}>Export CSV</Button>
      </Box>
      <DataTable
        name="companies"
        label="Companies"
        columns={columns}
        rows={rows}
        groups={groups}
        foot={foot}
        sort={sort}
        setSort={setSort}
        marks={marks}
        open={open}
        {...companyRows}
        testId="company-row"
        empty={<Empty title="No company of this name">Search all of them with / at the top.</Empty>}
        sx={{ flex: 1, minHeight: 220 }}
      />
    </Box>
  );
}

const NO_COLUMNS: never[] = [];
