// The companies with what is there of each: from, to, newest filing and its source.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useHoldings } from "../../api/queries";
import { Empty, Failed, Loading } from "../../components/States";
import { day, plain } from "../../headless/format";
import { tint } from "../../theme/theme";
import { CompanyLink } from "../companies/Company";
import { Table } from "../companies/Table";

const PAGE = 100;

const span = (e: Schemas["ExtentAnswer"]) => (e.first && e.last ? `${e.first.slice(0, 4)}–${e.last.slice(0, 4)}` : "–");

export function Holdings() {
  const [text, setText] = useState("");
  const [shown, setShown] = useState(PAGE);
  const answer = useHoldings({ text, offset: 0, rows: shown });
  if (answer.error) return <Failed error={answer.error} retry={() => answer.refetch()} />;
  if (!answer.data) return <Loading rows={8} />;
  const { rows, companies } = answer.data;
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: "flex", flexDirection: "column" }}>
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", mb: 0.5 }}>
        <TextField
          placeholder="Narrow by name or symbol"
          value={text}
          onChange={(e) => setText(e.target.value)}
          sx={{ width: 260 }}
          slotProps={{ htmlInput: { "aria-label": "Narrow the companies" } }}
        />
        <span style={{ fontSize: 13, color: tint("second") }}>
          {rows.length < companies ? `the first ${rows.length} of ` : ""}
          {plain(companies, 0)} companies
        </span>
        {rows.length < companies && <Button onClick={() => setShown(shown + 400)}>Show more</Button>}
      </Box>
      {rows.length === 0 ? (
        <Empty title={text ? "No company of this name" : "No companies yet"}>
          {text ? "Check the spelling; delisted companies are here too." : "Bring a Data Package on the right."}
        </Empty>
      ) : (
        <Table
          label="What is there of each company"
          left={[0, 6]}
          head={[
            "Company",
            "Filings",
            "Sessions",
            "Prices",
            "Estimates",
            "Newest filing",
            "Source",
            "Doubts",
            "Export",
          ]}
          rows={rows.map((r) => ({
            key: r.symbol,
            cells: [
              <span key="name">
                <CompanyLink symbol={r.symbol}>{r.name}</CompanyLink>{" "}
                <span style={{ color: tint("faint") }}>{r.symbol}</span>
              </span>,
              <span key="filings" title={span(r.statements)}>
                {plain(r.statements.rows, 0)}
              </span>,
              plain(r.prices.rows, 0),
              span(r.prices),
              plain(r.estimates, 0),
              r.newest_filing ? day(r.newest_filing) : "–",
              <span key="source" style={{ color: tint("second") }}>
                {r.source || "–"}
              </span>,
              r.findings > 0 ? (
                <span key="doubts" style={{ color: tint("clay"), fontWeight: 600 }}>
                  {r.findings}
                </span>
              ) : (
                "0"
              ),
              <Link key="export" href={`/api/export?symbol=${encodeURIComponent(r.symbol)}`} download>
                zip
              </Link>,
            ],
          }))}
        />
      )}
    </Box>
  );
}
