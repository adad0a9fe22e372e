// What somebody shares, as they see it: read only, by whom and since when, with the way to take a copy.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { Link as RouterLink, useNavigate, useParams } from "react-router";
import type { Schemas, ScreenRow, Unit } from "../../api/client";
import { people, type SharedAnswer, useChange, useShared } from "../../api/people";
import { useAbout } from "../../api/queries";
import { FigureCell } from "../../components/FigureCell";
import { RangeLine } from "../../components/RangeLine";
import { Empty, Failed, LoadingPage } from "../../components/States";
import { Table } from "../../components/Table";
import { ValueSpread } from "../../components/ValueSpread";
import { figureAt, rangeOf, spreadOf } from "../../headless/compact";
import { companies, count, day, moment, unitHint } from "../../headless/format";
import { tint } from "../../theme/theme";
import { Result } from "../backtests/result/Result";

/** Where a copy of each sort is found. */
const PLACES: Record<string, string> = {
  screen: "/screens",
  list: "/lists",
  "column set": "/screens",
  measure: "/guide",
  "assumption set": "/assumptions",
  case: "/companies",
  backtest: "/backtests",
};

export function SharedPage() {
  const { token = "" } = useParams();
  const shared = useShared(token);
  useEffect(() => {
    document.title = `${shared.data?.name ?? "Shared"} – Artemon`;
  }, [shared.data?.name]);
  if (shared.error && "kind" in shared.error && shared.error.kind === "missing") {
    return (
      <Empty title="This is not shared any more">
        Whoever shared it has taken it back or deleted it. Copies that were taken before are still there.
      </Empty>
    );
  }
  if (shared.error) return <Failed error={shared.error} retry={() => void shared.refetch()} />;
  if (!shared.data) return <LoadingPage />;
  const { data } = shared;
  return (
    <Box sx={{ height: "100%", overflowY: "auto", px: 2.75, pt: 2, pb: 6 }}>
      <Head token={token} data={data} />
      {data.backtest ? <OfBacktest backtest={data.backtest} /> : <OfDocument data={data} />}
    </Box>
  );
}

function Head({ token, data }: { token: string; data: SharedAnswer }) {
  const navigate = useNavigate();
  const copy = useChange(
    () => people.takeCopy(token),
    "documents",
    "lists",
    "measures",
    "own-measures",
    "assumptions",
    "backtests",
  );
  const taken = copy.data;
  return (
    <Box sx={{ mb: 2, maxWidth: 900 }}>
      <Typography variant="caption" color="textSecondary" component="p">
        {data.mine ? "You share this" : `Shared by ${data.by}`} since {moment(data.since)} · {data.what} · read only
      </Typography>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, flexWrap: "wrap" }}>
        <Typography variant="h1">{data.name}</Typography>
        {!data.mine && !taken && (
          <Button variant="contained" loading={copy.isPending} onClick={() => copy.mutate()}>
            Take a copy
          </Button>
        )}
      </Box>
      {data.note && <Typography variant="sentence">{data.note}</Typography>}
      {taken && (
        <Typography role="status" variant="body2" sx={{ mt: 0.5 }}>
          The copy “{taken.name}” is yours.
          {came(taken)} <Button onClick={() => navigate(PLACES[taken.what] ?? "/screens")}>Go there</Button>
        </Typography>
      )}
      {copy.error && (
        <Typography role="alert" variant="body2" color="error">
          {copy.error.message}
        </Typography>
      )}
    </Box>
  );
}

const came = ({ measures, list }: Schemas["Copied"]) => {
  const all = [...measures, ...(list ? [`the list “${list}”`] : [])];
  return all.length > 0 && ` With it came ${all.join(", ")}.`;
};

function OfDocument({ data }: { data: SharedAnswer }) {
  return (
    <>
      {data.lines.length > 0 && (
        <Box component="ul" sx={LINES}>
          {data.lines.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </Box>
      )}
      {data.screen && <OfScreen name={data.name} screen={data.screen} />}
      {data.list && <OfList data={data} list={data.list} />}
    </>
  );
}

/** The companies that pass, with the columns of whoever shares the screen. */
function OfScreen({ name, screen }: { name: string; screen: Schemas["SharedScreen"] }) {
  const base = useAbout().data?.base;
  const { columns, rows } = screen;
  const drawn = (i: number) => rows.some((r) => r.ranges[i]);
  const starts = (c: Schemas["ColumnInfo"], i: number) => c.unit === "text" || c.unit === "flag" || drawn(i);
  return (
    <>
      <Typography variant="h2" sx={{ mt: 2 }}>
        {count(screen.survivors)} of {companies(screen.universe)} pass on {day(screen.as_of)}
      </Typography>
      {rows.length > 0 && (
        <Table
          label={`Companies of ${name}`}
          left={[0, 1, ...columns.flatMap((c, i) => (starts(c, i) ? [i + 2] : [])), columns.length + 2]}
          head={["Symbol", "Company", ...columns.map((c, i) => headOf(c, drawn(i), base)), "Price and value"]}
          rows={rows.map((row) => ({
            key: row.symbol,
            cells: [
              <Company key="symbol" symbol={row.symbol} />,
              row.name,
              ...columns.map((c, i) => <Cell key={c.formula} row={row} i={i} unit={c.unit} />),
              <Spread key="spread" row={row} />,
            ],
          }))}
        />
      )}
      <More of={screen.survivors} shown={rows.length} />
    </>
  );
}

const headOf = ({ label, unit }: Schemas["ColumnInfo"], drawn: boolean, base: string | undefined) => {
  const hint = drawn ? "" : unit === "money" ? base : unitHint(unit);
  return hint ? `${label} (${hint})` : label;
};

function Cell({ row, i, unit }: { row: ScreenRow; i: number; unit: Unit | null | undefined }) {
  const range = rangeOf(row.ranges[i]);
  if (range) return <RangeLine range={range} unit={undefined} lowerIsBetter={false} neutral />;
  return (
    <>
      <FigureCell figure={figureAt(row, i)} unit={unit ?? null} bare />
      {unit === "per_share" && <span className="faint"> {row.currency}</span>}
    </>
  );
}

function Spread({ row }: { row: ScreenRow }) {
  const spread = spreadOf(row.spread);
  return spread ? <ValueSpread spread={spread} width={126} /> : <span className="faint">–</span>;
}

function OfList({ data, list }: { data: SharedAnswer; list: Schemas["SharedList"] }) {
  const noted = list.companies.some((c) => c.said !== "");
  return (
    <Box sx={{ maxWidth: 900 }}>
      <Typography variant="h2" sx={{ mt: 2 }}>
        {companies(list.members)}
      </Typography>
      {list.companies.length > 0 && (
        <Table
          label={`Companies of ${data.name}`}
          left={[0, 1, 2]}
          head={["Symbol", "Company", ...(noted ? [`What ${data.mine ? "you say" : `${data.by} says`}`] : [])]}
          rows={list.companies.map((c) => ({
            key: c.symbol,
            cells: [
              <Company key="symbol" symbol={c.symbol} />,
              c.name,
              ...(noted
                ? [
                    <span key="said" style={{ whiteSpace: "normal" }}>
                      {c.said}
                    </span>,
                  ]
                : []),
            ],
          }))}
        />
      )}
      <More of={list.members} shown={list.companies.length} />
    </Box>
  );
}

const Company = ({ symbol }: { symbol: string }) => (
  <Link component={RouterLink} to={`/companies/${symbol}`} sx={{ fontWeight: 600 }}>
    {symbol}
  </Link>
);

function More({ of, shown }: { of: number; shown: number }) {
  if (of <= shown) return null;
  return (
    <Typography variant="body2" color="textSecondary">
      The first {count(shown)} are shown. A copy shows them all.
    </Typography>
  );
}

function OfBacktest({ backtest }: { backtest: Schemas["BacktestAnswer"] }) {
  return (
    <>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>
        {backtest.says}
      </Typography>
      {backtest.outcome ? (
        <Result data={backtest} outcome={backtest.outcome} readOnly />
      ) : (
        <Typography>It has not come to its end yet.</Typography>
      )}
    </>
  );
}

const LINES = { m: 0, pl: 2.5, py: 1, borderTop: `1px solid ${tint("hairline")}`, "& li": { py: 0.25 } };
