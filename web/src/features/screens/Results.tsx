// The companies left, as a table: sorting, columns, the own-history range and the value spread.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { parseAsNumberLiteral, parseAsStringLiteral, useQueryStates } from "nuqs";
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
import { MenuButton } from "../../components/menu/MenuButton";
import { Empty, LoadingTable } from "../../components/States";
import { DataTable } from "../../components/table/DataTable";
import { GroupBy } from "../../components/table/GroupBy";
import type { Rows, SortBy } from "../../components/table/model";
import { useActions } from "../../headless/actions";
import { told } from "../../headless/notice";
import { text } from "../../headless/address";
import { companies, count, day } from "../../headless/format";
import { useCompanyMarks } from "../../headless/marks";
import type { Edit } from "../../headless/screenState";
import { useLoaded } from "../../headless/useLoaded";
import { useOpenCompany } from "../companies/open";
import { ColumnMenu } from "./ColumnMenu";
import { useMedians } from "./medians";
import { newsColumns } from "./newsColumns";
import { useResultColumns } from "./resultColumns";
import { Suggestions } from "./Suggestions";
import { useTest } from "../backtests/start";
import type { Axes } from "./map/ScreenMap";
import { useCompanyRows } from "../companies/useCompanyRows";

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

const loadWall = async () => (await import("./Wall")).Wall;
const loadMap = async () => (await import("./map/ScreenMap")).ScreenMap;

const VIEWS = ["table", "wall", "map"] as const;
const NAMES = { table: "Table", wall: "Charts", map: "Map" };
const YEARS = [1, 3, 10] as const;

/** How the companies left are seen. */
const SEEN = {
  view: parseAsStringLiteral(VIEWS).withDefault("table"),
  years: parseAsNumberLiteral(YEARS).withDefault(10),
  x: text.withDefault("quality"),
  y: text.withDefault("margin_of_safety"),
  size: text.withDefault("market_cap"),
  tint: text.withDefault(""),
};

export const Results = memo(function Results({ screen, list, rows, setGroup, edit, answer, measures, since }: Props) {
  const { survivors } = answer;
  const figures = useResultColumns(answer.columns, measures);
  const columns = useMemo(() => [...figures, ...newsColumns], [figures]);
  const { groups, foot } = useMedians(list, answer.columns);
  const [{ view, years, x, y, size, tint }, setSeen] = useQueryStates(SEEN);
  const axes = useMemo((): Axes => ({ x, y, size: size || null, tint: tint || null }), [x, y, size, tint]);
  const setAxes = (to: Axes) => void setSeen({ ...to, size: to.size ?? "", tint: to.tint ?? "" });
  const Wall = useLoaded(loadWall, view === "wall");
  const ScreenMap = useLoaded(loadMap, view === "map");
  const next = VIEWS[(VIEWS.indexOf(view) + 1) % VIEWS.length] ?? "table";
  // The rows depend on no name; a file has one.
  const save = (format: Schemas["TableFormat"]) =>
    void told(api.exportScreen({ ...list, screen: { ...list.screen, name: screen.name } }, format));
  const test = useTest();
  const inThePast = () => test.run(screen);
  useActions([
    { keys: "w", label: "Test this screen in the past", run: inThePast },
    { keys: "e", label: "Export the companies left as CSV", run: () => save("csv") },
    {
      keys: "v",
      label: `Show the companies left as ${NAMES[next].toLowerCase()}`,
      run: () => void setSeen({ view: next }),
    },
  ]);
  const marks = useCompanyMarks<ScreenRow>();
  const companyRows = useCompanyRows(screen.name ?? "");
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
          {companies(survivors)} left
          {since && (
            <span className="light second small">
              {" "}
              {count(since.entered.length)} entered, {count(since.left.length)} left since {day(since.since)}
            </span>
          )}
        </Typography>
        <Box sx={{ flex: 1 }} />
        {view === "wall" && (
          <MenuButton
            means="Years of the charts"
            label={`${years === 1 ? "1 year" : `${years} years`} ▾`}
            items={YEARS.map((y) => ({
              label: y === 1 ? "1 year" : `${y} years`,
              chosen: y === years,
              run: () => setSeen({ years: y }),
            }))}
          />
        )}
        <Box sx={{ display: "flex" }} role="group" aria-label="Shown as">
          {VIEWS.map((v) => (
            <Button
              key={v}
              // Who points at it will want it.
              onPointerEnter={v === "wall" ? () => void loadWall() : undefined}
              aria-pressed={v === view}
              onClick={() => setSeen({ view: v })}
              sx={v === view ? { color: "text.primary", textDecoration: "underline" } : {}}
            >
              {NAMES[v]}
            </Button>
          ))}
        </Box>
        <GroupBy group={list.group ?? null} set={setGroup} />
        <Button
          data-hint="Would this screen have worked, and could it be luck?"
          onClick={inThePast}
          disabled={test.pending}
        >
          Backtest
        </Button>
        <MenuButton
          label="Export ▾"
          items={[
            ["CSV", "csv"],
            ["Workbook (XLSX)", "xlsx"],
            ["Parquet", "parquet"],
            ["JSON", "json"],
          ]
            .map(([label, format]) => ({
              label: label as string,
              run: () => save(format as Schemas["TableFormat"]),
            }))
            .concat({
              label: "Copy all rows",
              run: () => void told(api.copyScreen(list), "Copying…", "All rows are copied."),
            })}
        />
        <ColumnMenu
          columns={screen.columns ?? []}
          measures={measures}
          change={(columns) => edit((s) => ({ ...s, columns }))}
        />
      </Box>
      {test.error && <Typography color="error">{test.error.message}</Typography>}
      <Suggestions screen={screen} answer={answer} edit={edit} />
      {view === "wall" &&
        (Wall ? <Wall list={list} survivors={rows.count} months={12 * years} open={open} /> : <LoadingTable />)}
      {view === "map" &&
        (ScreenMap ? (
          <ScreenMap
            list={list}
            columns={answer.columns}
            measures={measures}
            axes={axes}
            setAxes={setAxes}
            open={open}
          />
        ) : (
          <LoadingTable />
        ))}
      {view === "table" && (
        <DataTable
          name="screens"
          label="Companies left"
          columns={columns}
          rows={rows}
          groups={groups}
          foot={foot}
          sort={sort}
          setSort={setSort}
          marks={marks}
          open={open}
          {...companyRows}
          testId="survivor"
          empty={
            <Empty title="No companies left">
              Loosen the criterion that removes most, or let a near miss back in below.
            </Empty>
          }
          sx={{ maxHeight: "calc(100vh - 330px)", minHeight: 160 }}
        />
      )}
    </>
  );
});
