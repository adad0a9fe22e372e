// What happened, newest first; what was written down by hand can be taken back.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { ledger, useLedgerChange } from "../../../api/ledger";
import { Table } from "../../../components/Table";
import { count, day, plain } from "../../../headless/format";

const SHOWN = 12;

interface Props {
  page: Schemas["LedgerPage"];
  /** Asks for all lines. */
  askAll: () => void;
}

export function Journal({ page, askAll }: Props) {
  const [all, showAll] = useState(false);
  const change = useLedgerChange<void>();
  const lines = page.journal;
  const shown = all ? lines : lines.slice(0, SHOWN);
  return (
    <Box component="section" aria-label="Journal" sx={{ mt: 3 }}>
      <Typography variant="h2">
        Journal <span className="faint light small">{count(page.journal_lines)} lines</span>
      </Typography>
      {page.corrected > 0 && (
        <Typography className="clay">
          {page.corrected === 1 ? "One entry rests" : `${count(page.corrected)} entries rest`} on data that were
          corrected since. Cash and lots stay as they were booked; worth and returns are told from the data as they are
          now.
        </Typography>
      )}
      {change.error && <Typography className="clay">{change.error.message}</Typography>}
      <Table
        label="Journal"
        head={["Day", "Account", "What", "Cash after", "Change"]}
        left={[0, 1, 2, 4]}
        rows={shown.map((l) => ({
          key: String(l.n),
          cells: [
            day(l.date),
            l.account,
            l.corrected ? (
              <span key="says">
                {l.says} <span className="clay">{l.corrected}</span>
              </span>
            ) : (
              l.says
            ),
            l.cash == null ? "" : plain(l.cash, 2),
            l.by_hand ? (
              <Button key="back" onClick={() => change.mutate(() => ledger.takeBack(l.n))}>
                Take back
              </Button>
            ) : (
              ""
            ),
          ],
        }))}
      />
      {!all && lines.length > SHOWN && <Button onClick={() => showAll(true)}>More</Button>}
      {all && lines.length < page.journal_lines && <Button onClick={askAll}>All {count(page.journal_lines)}</Button>}
    </Box>
  );
}
