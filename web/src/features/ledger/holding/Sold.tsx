// What was sold: the result, and what was learnt from it.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Schemas } from "../../../api/client";
import { Table } from "../../../components/Table";
import { useAddress, useAsOf } from "../../../headless/asOf";
import { compact } from "../../../headless/format";
import { DecisionSheet } from "../decisions/DecisionSheet";
import { gain } from "./Accounts";

export function Sold({ rows, index }: { rows: Schemas["ClosedRow"][]; index: string | null }) {
  const address = useAddress();
  const [asOf] = useAsOf();
  const [opened, open] = useState<string | null>(null);
  return (
    <Box component="section" aria-label="Sold" sx={{ mt: 3 }}>
      <Typography variant="h2">Sold</Typography>
      <Table
        label="Sold"
        head={["Company", "Account", "Gain on what was sold", "Income", "Together", "Still held", "Lesson"]}
        left={[0, 1, 5, 6]}
        rows={rows.map((r) => ({
          key: `${r.account} ${r.symbol} ${r.name}`,
          cells: [
            r.symbol ? (
              <Link key="name" component={RouterLink} to={address(`/companies/${r.symbol}`)} sx={{ fontWeight: 600 }}>
                {r.name}
              </Link>
            ) : (
              <b key="name">{r.name}</b>
            ),
            r.account,
            <span key="gain">
              {gain(r.realised)} {r.currency}
            </span>,
            compact(r.income),
            <span key="together">{gain(r.realised + r.income)}</span>,
            r.held ? "some is still held" : "",
            <Lesson key="lesson" row={r} open={open} />,
          ],
        }))}
      />
      {opened && <DecisionSheet id={opened} asOf={asOf} index={index} close={() => open(null)} />}
    </Box>
  );
}

/** What was learnt, or the way to say it. */
function Lesson({ row, open }: { row: Schemas["ClosedRow"]; open: (decision: string) => void }) {
  const { decision } = row;
  if (!decision) return null;
  if (!row.lesson) return <Button onClick={() => open(decision)}>Say what came of it</Button>;
  return (
    <Link
      component="button"
      type="button"
      className="serif"
      onClick={() => open(decision)}
      sx={{ maxWidth: 320, textAlign: "left", overflow: "hidden", textOverflow: "ellipsis" }}
    >
      {row.lesson}
    </Link>
  );
}
