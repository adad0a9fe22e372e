// The companies left, as a table: sorting, columns, the own-history range and the value spread.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { memo, useMemo } from "react";
import type { Measure, Screen, ScreenAnswer, ScreenRow } from "../../api/client";
import { useScreenRows } from "../../api/queries";
import { Empty } from "../../components/States";
import { DataTable } from "../../components/table/DataTable";
import type { SortBy } from "../../components/table/model";
import { useCompanyMarks } from "../../headless/marks";
import type { Edit } from "../../headless/screenState";
import { useOpenCompany } from "../companies/open";
import { ColumnMenu } from "./ColumnMenu";
import { useResultColumns } from "./resultColumns";

interface Props {
  screen: Screen;
  edit: Edit;
  answer: ScreenAnswer;
  measures: Measure[];
}

export const Results = memo(function Results({ screen, edit, answer, measures }: Props) {
  const { survivors } = answer;
  const asked = useAsked(screen, answer.as_of);
  const rows = useScreenRows(asked, survivors);
  const columns = useResultColumns(answer.columns, measures);
  const marks = useCompanyMarks<ScreenRow>();
  const open = useOpenCompany(asked);
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
        </Typography>
        <Box sx={{ flex: 1 }} />
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
        sort={sort}
        setSort={setSort}
        marks={marks}
        open={open}
        testId="survivor"
        empty={
          <Empty title="Nothing is left">
            Loosen the criterion that costs most, or take a near miss back in below.
          </Empty>
        }
        sx={{ maxHeight: "calc(100vh - 330px)", minHeight: 160 }}
      />
    </>
  );
});

/** The screen as its rows depend on it: not on its name, nor on notes. */
function useAsked({ universe, blocks, columns, sort, limit }: Screen, asOf: string): Screen {
  return useMemo(
    () => ({
      as_of: asOf,
      ...(universe && { universe }),
      ...(blocks && { blocks }),
      ...(columns && { columns }),
      ...(sort && { sort }),
      ...(limit && { limit }),
    }),
    [universe, blocks, columns, sort, limit, asOf],
  );
}
