// The statements that were taken in; each can be taken back as a whole.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { ledger, useLedgerChange, useStatementImports } from "../../../api/ledger";
import { Table } from "../../../components/Table";
import { count, moment } from "../../../headless/format";

export function Imports() {
  const all = useStatementImports().data ?? [];
  const change = useLedgerChange<void>();
  if (all.length === 0) return null;
  return (
    <Box component="section" aria-label="Statements" sx={{ mt: 3 }}>
      <Typography variant="h2">Statements taken in</Typography>
      {change.error && <Typography className="clay">{change.error.message}</Typography>}
      <Table
        label="Statements"
        head={["File", "Account", "When", "Entries", "Undo"]}
        left={[0, 1, 2, 4]}
        rows={all.map((i) => ({
          key: i.id,
          cells: [
            i.file,
            i.account,
            moment(i.imported_at),
            count(i.entries),
            <Button key="undo" onClick={() => change.mutate(() => ledger.undoStatement(i.id))}>
              Take back
            </Button>,
          ],
        }))}
      />
    </Box>
  );
}
