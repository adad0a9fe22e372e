// All listed companies, largest first: a way in for those who do not know a name.
import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useMemo, useState } from "react";
import type { Screen } from "../../api/client";
import { useAbout, useScreen } from "../../api/queries";
import { FigureCell } from "../../components/FigureCell";
import { Empty, Failed, Loading } from "../../components/States";
import { ValueSpread } from "../../components/ValueSpread";
import { useAsOf } from "../../headless/asOf";
import { tint } from "../../theme/theme";
import { CompanyLink } from "./Company";
import { Table } from "./Table";

const COLUMNS = ["sector", "industry", "country", "market_cap", "price", "pe", "net_margin"];
const ALL: Screen = { name: "", columns: COLUMNS, sort: [{ formula: "market_cap", descending: true }], blocks: [] };

export function Directory() {
  const [asOf] = useAsOf();
  const about = useAbout();
  const [text, setText] = useState("");
  const asked = useMemo(() => (asOf ? { ...ALL, as_of: asOf } : ALL), [asOf]);
  const answer = useScreen(asked);
  useEffect(() => {
    document.title = "Companies – Artemon";
  }, []);
  if (answer.error) return <Failed error={answer.error} retry={() => answer.refetch()} />;
  if (!answer.data) return <Loading rows={14} />;
  const wanted = text.trim().toLowerCase();
  const rows = answer.data.rows.filter((r) =>
    [r.name, r.symbol, ...r.values.slice(0, 3).map((v) => String(v.value))].some((t) =>
      t.toLowerCase().includes(wanted),
    ),
  );
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column", px: 2.5, py: 1.5 }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 3 }}>
        <Typography variant="h1">Companies</Typography>
        <TextField
          placeholder="Narrow by name, sector, industry"
          value={text}
          onChange={(e) => setText(e.target.value)}
          sx={{ width: 300 }}
          slotProps={{ htmlInput: { "aria-label": "Narrow the list" } }}
        />
        <Typography variant="body2" sx={{ color: tint("second") }}>
          {wanted ? `${rows.length} of the ` : "The "}
          {answer.data.rows.length === answer.data.survivors
            ? `${answer.data.survivors} listed companies`
            : `${answer.data.rows.length} largest of ${answer.data.survivors} listed companies`}
          , funds left out
        </Typography>
      </Box>
      {rows.length === 0 ? (
        <Empty title="No company of this name here">Search all of them with / at the top.</Empty>
      ) : (
        <Table
          label="Companies"
          left={[0, 1, 2, 3, 8]}
          head={[
            "Company",
            "Sector",
            "Industry",
            "Country",
            `Market value, ${about.data?.base ?? ""}`,
            "Price",
            "P/E",
            "Net margin %",
            "price and value",
          ]}
          rows={rows.map((r) => ({
            key: r.symbol,
            cells: [
              <span key="name">
                <CompanyLink symbol={r.symbol}>{r.name}</CompanyLink>{" "}
                <span style={{ color: tint("faint") }}>{r.symbol}</span>
              </span>,
              ...r.values.map((v, i) => (
                <span key={COLUMNS[i]}>
                  <FigureCell figure={v} unit={answer.data.columns[i]?.unit} bare />
                  {COLUMNS[i] === "price" && <span style={{ color: tint("faint") }}> {r.currency}</span>}
                </span>
              )),
              r.spread ? <ValueSpread key="spread" spread={r.spread} width={150} /> : "–",
            ],
          }))}
        />
      )}
    </Box>
  );
}
