// Does a measure tell what follows? The universe in fifths by it at past dates, and what each brought until the next.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryState } from "nuqs";
import { useState } from "react";
import { useMeasureCheck } from "../../api/backtests";
import type { Schemas } from "../../api/client";
import { useAbout } from "../../api/queries";
import { Bars } from "../../charts/Bars";
import { Answered } from "../../components/Answered";
import { FormulaInput } from "../../components/FormulaInput";
import { Table } from "../../components/Table";
import { text, whole } from "../../headless/address";
import { count, day, percent, plain, signed } from "../../headless/format";
import { EVERY } from "./settings";

const YEARS = 15;

export function MeasureCheck() {
  const about = useAbout().data;
  const [formula, setFormula] = useQueryState("formula", text);
  const [every, setEvery] = useQueryState("every", whole.withDefault(3));
  const [typed, type] = useState(formula ?? "earnings_yield");
  const asked: Schemas["ValueCheck"] | null =
    formula && about?.last_day && about.first_day
      ? {
          formula,
          universe: {},
          from: later(about.first_day, about.last_day),
          to: about.last_day,
          every,
          base: about.base,
        }
      : null;
  return (
    <Box component="section" aria-label="A measure">
      <Box
        component="form"
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "1fr", sm: "minmax(240px, 420px) 180px auto" },
          gap: 2,
          alignItems: "start",
          mb: 2,
        }}
        onSubmit={(e) => {
          e.preventDefault();
          void setFormula(typed.trim() || null);
        }}
      >
        <FormulaInput
          label="Measure or formula"
          value={typed}
          change={type}
          take={(t) => void setFormula(t.trim() || null)}
          error={null}
        />
        <TextField select label="At dates" value={every} onChange={(e) => void setEvery(Number(e.target.value))}>
          {EVERY.map(([months, words]) => (
            <MenuItem key={months} value={months}>
              {words}
            </MenuItem>
          ))}
        </TextField>
        <Button type="submit" variant="contained" sx={{ mt: 0.5, justifySelf: "start" }}>
          Check it
        </Button>
      </Box>
      {asked ? (
        <Checked asked={asked} />
      ) : (
        <Typography color="textSecondary">
          All companies are put in order by the measure as it was known at each date, and cut into fifths; then it is
          seen what each fifth brought until the next date. No portfolio, no costs: it asks only whether the measure
          knows anything.
        </Typography>
      )}
    </Box>
  );
}

/** Five years after the data begin, and fifteen before they end at most. */
function later(first: string, last: string): string {
  const back = `${Number(last.slice(0, 4)) - YEARS}${last.slice(4, 7)}-01`;
  const begun = `${Number(first.slice(0, 4)) + 5}${first.slice(4, 7)}-01`;
  const from = back > begun ? back : begun;
  return from < last ? from : first;
}

function Checked({ asked }: { asked: Schemas["ValueCheck"] }) {
  return (
    <Answered answer={useMeasureCheck(asked)} rows={8}>
      {(found) => (
        <>
          <Typography variant="sentence">{found.sentence}</Typography>
          {found.said.map((sentence) => (
            <Typography key={sentence} className="clay">
              {sentence}
            </Typography>
          ))}
          <Box sx={{ maxWidth: 620, mt: 1 }}>
            <Bars
              label={`Mean return of each fifth by ${found.label}`}
              name="Mean return until the next date"
              unit="percent"
              bars={found.mean_fifths.map((value, i) => ({
                label: ["lowest fifth", "second", "third", "fourth", "highest fifth"][i] ?? "",
                value,
              }))}
            />
          </Box>
          <Typography variant="body2" color="textSecondary">
            Highest less lowest fifth {signed(found.mean_spread)} on average
            {found.t_statistic != null && `, t ${plain(found.t_statistic, 1)}`}
            {found.mean_rank_correlation != null && `, rank correlation ${plain(found.mean_rank_correlation, 3)}`}, over{" "}
            {count(found.dates.length)} dates from {day(found.dates[0]?.decision ?? "")}; no answer for{" "}
            {percent(found.undefined_share)} of the companies.
          </Typography>
          <Table
            label="Date by date"
            maxHeight={320}
            head={[
              "Date",
              "Companies",
              "Lowest fifth",
              "Second",
              "Third",
              "Fourth",
              "Highest fifth",
              "Spread",
              "Rank correlation",
            ]}
            rows={found.dates.toReversed().map((d) => ({
              key: d.decision,
              cells: [
                day(d.decision),
                count(d.n),
                ...d.fifths.map(signed),
                <b key="s" className={d.spread < 0 ? "clay" : "teal"}>
                  {signed(d.spread)}
                </b>,
                d.rank_correlation == null ? "–" : plain(d.rank_correlation, 2),
              ],
            }))}
          />
        </>
      )}
    </Answered>
  );
}
