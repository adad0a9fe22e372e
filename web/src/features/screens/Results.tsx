// The companies left, as a table: sorting, columns, the own-history range and the value spread.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { memo, useMemo } from "react";
import {
  api,
  type Measure,
  type Schemas,
  type Screen,
  type ScreenAnswer,
  type ScreenList,
  type ScreenRow,
} from "../../api/client";
import { Empty } from "../../components/States";
import { DataTable } from "../../components/table/DataTable";
import { GroupBy } from "../../components/table/GroupBy";
import type { Rows, SortBy } from "../../components/table/model";
import { useActions } from "../../headless/actions";
import { day } from "../../headless/format";
import { useCompanyMarks } from "../../headless/marks";
import type { Edit } from "../../headless/screenState";
import { useOpenCompany } from "../companies/open";
import { ColumnMenu } from "./ColumnMenu";
import { useGroups } from "./groups";
import { useResultColumns } from "./resultColumns";

type Grouping = Schemas["Grouping"];

interface Props {
  screen: Screen;
  /** Whose rows they are. */
  list: ScreenList;
  rows: Rows<ScreenRow>;
  setGroup: (to: Grouping | null) => void;
  edit: Edit;
  answer: ScreenAnswer;
  measures: Measure[];
  /** Who came and went since its last run. */
  since: Schemas["ChangesAnswer"] | null;
}

export const Results = memo(function Results({ screen, list, rows, setGroup, edit, answer, measures, since }: Props) {
  const { survivors } = answer;
  const columns = useResultColumns(answer.columns, measures);
  const groups = useGroups(list, answer.columns);
  useActions([{ keys: "e", label: "Export the companies left as CSV", run: () => void api.exportScreen(list) }]);
  const marks = useCompanyMarks<ScreenRow>();
  const open = useOpenCompany(list);
  const sort = useMemo(
    () => (screen.sort ?? []).map((s) => ({ id: s.formula, desc: s.descending ?? false })),
    [screen.sort],
  );
  const setSort = (to: SortBy[]) =>
    edit((s) => ({ ...s, sort: to.map(({ id, desc }) => ({ formula: id, descending: desc })) }));
  return (
    <>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, mb: 0.75 }}>
        <Typography variant="h2" aria-live="polite" data-testid="survivors">
          {survivors} {survivors === 1 ? "company" : "companies"} left
          {since && (
            <span className="light second small">
              {" "}
              {since.entered.length} entered, {since.left.length} left since {day(since.since)}
            </span>
          )}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <GroupBy group={list.group ?? null} set={setGroup} />
        <Button onClick={() => void api.exportScreen(list)}>Export CSV</Button>
        <ColumnMenu
          columns={screen.columns ?? []}
          measures={measures}
          change={(columns) => edit((s) => ({ ...s, columns }))}
        />
      </Box>
      <DataTable
        name="screens"
        label="Companies left"
        columns={columns}
        rows={rows}
        groups={groups}
        sort={sort}
        setSort={setSort}
        marks={marks}
        open={open}
        testId="survivor"
        empty={
          <Empty title="No companies left">
            Loosen the criterion that removes most, or let a near miss back in below.
          </Empty>
        }
        sx={{ maxHeight: "calc(100vh - 330px)", minHeight: 160 }}
      />
    </>
  );
});
