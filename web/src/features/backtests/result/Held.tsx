// What was held on any day.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { type Opened, type Outcome, useHeldAt } from "../../../api/backtests";
import { Answered } from "../../../components/Answered";
import { DateField, outside } from "../../../components/DateField";
import { Fold } from "../../../components/Fold";
import { Table } from "../../../components/Table";
import { day, percent } from "../../../headless/format";

interface Props {
  id: string;
  outcome: Outcome;
  names: Opened["names"];
}

export function Held(props: Props) {
  return (
    <Fold label="What was held on a day">
      <On {...props} />
    </Fold>
  );
}

function On({ id, outcome, names }: Props) {
  const [date, setDate] = useState(outcome.last);
  const wrong = outside(date, outcome.first, outcome.last);
  const answer = useHeldAt(id, wrong ? "" : date);
  return (
    <Box component="section" aria-label="Holdings" sx={{ maxWidth: 720 }}>
      <Box sx={{ width: 220 }}>
        <DateField
          label="At the close of"
          value={date}
          set={setDate}
          first={outcome.first}
          last={outcome.last}
          focused={false}
        />
      </Box>
      <Answered answer={answer} rows={4}>
        {(held) => {
          const value = held.cash + held.holdings.reduce((sum, h) => sum + h.value, 0);
          return (
            <>
              <Typography variant="body2">
                {day(held.date)}: {held.holdings.length} companies, cash {percent(held.cash / value)}
              </Typography>
              <Table
                label="Held"
                left={[0, 1]}
                head={["Symbol", "Company", "Part of the whole"]}
                rows={held.holdings
                  .toSorted((a, b) => b.value - a.value)
                  .map((h) => ({
                    key: h.symbol,
                    cells: [
                      <Link
                        key="s"
                        component={RouterLink}
                        to={`/companies/${encodeURIComponent(h.symbol)}?as_of=${held.date}`}
                      >
                        {h.symbol}
                      </Link>,
                      names[h.symbol]?.name ?? "",
                      percent(h.value / value),
                    ],
                  }))}
              />
            </>
          );
        }}
      </Answered>
    </Box>
  );
}
