// Doubts about the data: figures that may be right but look like mistakes.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useFindings } from "../../api/queries";
import { Empty, Failed, Loading } from "../../components/States";
import { day, plain } from "../../headless/format";
import { tint } from "../../theme/theme";
import { CompanyLink } from "../companies/Company";
import { Table } from "../companies/Table";

const WORDS: Record<string, string> = {
  balance: "Balance sheets that do not balance",
  earnings_per_share: "Earnings a share unlike income over shares",
  units: "Changed units",
  missing_periods: "Missing periods",
  late_filing: "Late filings",
  price_jump: "Price jumps",
  price_gap: "Price gaps",
};

export function FindingsList({ counts }: { counts: Schemas["CheckCount"][] }) {
  const [check, setCheck] = useState<string | null>(null);
  const [shown, setShown] = useState(200);
  const answer = useFindings({ check, offset: 0, rows: shown });
  if (answer.error) return <Failed error={answer.error} retry={() => answer.refetch()} />;
  if (!answer.data) return <Loading rows={8} />;
  const { rows, findings } = answer.data;
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: "flex", flexDirection: "column" }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, mb: 1 }}>
        {counts.map(({ check: id, findings: n }) => (
          <Button
            key={id}
            variant="outlined"
            aria-pressed={check === id}
            onClick={() => setCheck(check === id ? null : id)}
            sx={{
              py: 0.1,
              fontWeight: check === id ? 600 : 400,
              borderColor: check === id ? tint("brass") : tint("hairline"),
              bgcolor: check === id ? tint("brassWash") : "transparent",
              color: tint("ink"),
            }}
          >
            {WORDS[id] ?? id} <span style={{ color: tint("second"), marginLeft: 6 }}>{plain(n, 0)}</span>
          </Button>
        ))}
        {rows.length < findings && <Button onClick={() => setShown(shown + 800)}>Show more</Button>}
      </Box>
      {rows.length === 0 ? (
        <Empty title="Nothing looks like a mistake">Every import is checked; doubts would be listed here.</Empty>
      ) : (
        <Table
          label="Doubts about the data"
          left={[0, 1, 2]}
          head={["Company", "When", "What looks wrong"]}
          rows={rows.map((f, i) => ({
            key: `${f.symbol}${f.check}${f.on}${i}`,
            cells: [
              <span key="name">
                <CompanyLink symbol={f.symbol}>{f.name}</CompanyLink>{" "}
                <span style={{ color: tint("faint") }}>{f.symbol}</span>
              </span>,
              day(f.on),
              <span key="what" style={{ whiteSpace: "normal" }}>
                {f.sentence}
              </span>,
            ],
          }))}
        />
      )}
    </Box>
  );
}
