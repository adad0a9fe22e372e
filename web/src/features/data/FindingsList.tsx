// Doubts about the data: figures that may be right but look like mistakes.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useMemo, useState } from "react";
import type { Schemas } from "../../api/client";
import { useFindings } from "../../api/queries";
import { Empty, Failed } from "../../components/States";
import { DataTable } from "../../components/table/DataTable";
import type { Column } from "../../components/table/model";
import { useAddress } from "../../headless/asOf";
import { day, plain } from "../../headless/format";
import { tint } from "../../theme/theme";
import { companyColumn } from "../companies/tableColumns";

type Finding = Schemas["FindingAnswer"];

const WORDS: Record<string, string> = {
  balance: "Balance sheets that do not balance",
  earnings_per_share: "Earnings per share that do not match income over shares",
  units: "Changed units",
  missing_periods: "Missing periods",
  late_filing: "Late filings",
  price_jump: "Price jumps",
  price_gap: "Price gaps",
  damaged: "Damaged on the disk",
};

export function FindingsList({ counts }: { counts: Schemas["CheckCount"][] }) {
  const [check, setCheck] = useState<string | null>(null);
  const { rows, error } = useFindings(check);
  const address = useAddress();
  const columns = useMemo(() => [companyColumn<Finding>(address), ...COLUMNS], [address]);
  if (error) return <Failed error={error} />;
  return (
    <>
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
      </Box>
      <DataTable
        name="doubts"
        label="Doubts about the data"
        columns={columns}
        rows={rows}
        empty={<Empty title="Nothing looks like a mistake">Every import is checked; doubts are listed here.</Empty>}
        sx={{ flex: 1, minHeight: 160 }}
      />
    </>
  );
}

const COLUMNS: Column<Finding>[] = [
  { id: "on", label: "When", width: 92, cell: (f) => day(f.on), text: (f) => f.on },
  {
    id: "sentence",
    label: "What looks wrong",
    width: 420,
    grows: true,
    cell: (f) => f.sentence,
    text: (f) => f.sentence,
    tip: (f) => f.sentence,
  },
];
