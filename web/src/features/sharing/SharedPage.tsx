// What somebody shares, as they see it: read only, by whom and since when, with the way to take a copy.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { Link as RouterLink, useNavigate, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { people, type SharedAnswer, useChange, useShared } from "../../api/people";
import { Empty, Failed, LoadingPage } from "../../components/States";
import { Table } from "../../components/Table";
import { count, moment } from "../../headless/format";
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
          {taken.measures.length > 0 && ` With it came ${taken.measures.join(", ")}.`}{" "}
          <Button onClick={() => navigate(PLACES[taken.what] ?? "/screens")}>Go there</Button>
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

function OfDocument({ data }: { data: SharedAnswer }) {
  return (
    <Box sx={{ maxWidth: 900 }}>
      {data.lines.length > 0 && (
        <Box component="ul" sx={LINES}>
          {data.lines.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </Box>
      )}
      {data.found != null && (
        <>
          <Typography variant="h2" sx={{ mt: 2 }}>
            {data.what === "screen" ? `${count(data.found)} companies pass now` : `${count(data.found)} companies`}
          </Typography>
          {data.companies.length > 0 && <Companies data={data} />}
          {data.found > data.companies.length && (
            <Typography variant="body2" color="textSecondary">
              The first {count(data.companies.length)} are shown. A copy shows them all.
            </Typography>
          )}
        </>
      )}
    </Box>
  );
}

function Companies({ data }: { data: SharedAnswer }) {
  const noted = data.companies.some((c) => c.said !== "");
  return (
    <Table
      label={`Companies of ${data.name}`}
      left={[0, 1, 2]}
      head={["Symbol", "Company", ...(noted ? [`What ${data.mine ? "you say" : `${data.by} says`}`] : [])]}
      rows={data.companies.map((c) => ({
        key: c.symbol,
        cells: [
          <Link key="symbol" component={RouterLink} to={`/companies/${c.symbol}`} sx={{ fontWeight: 600 }}>
            {c.symbol}
          </Link>,
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
