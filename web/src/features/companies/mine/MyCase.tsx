// My own case: the next years low, likely and high, each field beside what the last five years did, and what they would be worth.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { ShareButton } from "../../../components/ShareButton";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { type Cases, saveCases, useCases, useCasesRecord, useWorkedOut } from "../../../api/evidence";
import { Answered } from "../../../components/Answered";
import { among, WordChoice } from "../../../components/WordChoice";
import { useAsOf } from "../../../headless/asOf";
import { useDraft } from "../../../headless/draft";
import { companies, day, numberOf, percent, plain, price as money } from "../../../headless/format";
import { tint } from "../../../theme/theme";
import { CaseFields } from "./CaseFields";
import { Fans } from "./Fans";

export const COURSES = ["low", "likely", "high"] as const;
export type Course = (typeof COURSES)[number];
export type Worked = Schemas["CasesAnswer"];
type Kept = Schemas["Kept_Cases"];

interface Props {
  symbol: string;
  currency: string;
  base: string;
  price: number | null;
}

export default function MyCase(p: Props) {
  return (
    <Answered answer={useCases(p.symbol)} rows={8}>
      {(kept) => <Draft key={p.symbol} kept={kept} {...p} />}
    </Answered>
  );
}

/** Empty ones are left to what the last years did. */
const NOTHING: Cases = { made_on: null, low: null, likely: null, high: null };

function Draft({ kept, ...p }: Props & { kept: Kept }) {
  const [asOf] = useAsOf();
  const [draft, change, letGo] = useDraft<Cases>(`case:${p.symbol}`, { ...NOTHING, ...kept.own });
  const answer = useWorkedOut(p.symbol, draft, asOf);
  const client = useQueryClient();
  const keep = useMutation({
    mutationFn: (cases: Cases) => saveCases(p.symbol, kept.version, cases),
    onSuccess: (then) => {
      client.setQueryData(["cases", p.symbol], then);
      change({ ...NOTHING, ...then.own });
      letGo();
    },
  });
  const changed = JSON.stringify({ ...NOTHING, ...kept.own }) !== JSON.stringify(draft);
  return (
    <Answered answer={answer} rows={8}>
      {(worked) =>
        worked.reason ? (
          <Typography variant="body2" color="textSecondary">
            No case can be made of it: {worked.reason}. Of banks, insurers, holdings and funds income does not follow
            from revenue and margin.
          </Typography>
        ) : (
          <>
            <Fans worked={worked} currency={p.currency} />
            <Edited worked={worked} change={change} {...p} />
            <Box sx={{ display: "flex", gap: 1.5, alignItems: "baseline", mt: 1 }}>
              {(answer.error ?? keep.error) && (
                <Typography variant="body2" color="error" role="alert">
                  {(answer.error ?? keep.error)?.message}
                </Typography>
              )}
              {changed && (
                <>
                  <Button variant="contained" disabled={keep.isPending} onClick={() => keep.mutate(whole(worked))}>
                    Keep my case
                  </Button>
                  <Button onClick={() => change({ ...NOTHING, ...kept.own })}>Undo</Button>
                </>
              )}
              {kept.version > 0 && !changed && (
                <Typography variant="caption" color="textSecondary">
                  Kept as version {kept.version}, made on the figures of {day(worked.made_on)}.
                </Typography>
              )}
              {kept.version > 0 && !changed && (
                <ShareButton kind="case" name={p.symbol} id={kept.id} called={`my case of ${p.symbol}`} />
              )}
              {worked.passed > 0 && (
                <Button onClick={() => change({ ...whole(worked), made_on: null })}>Begin from today's figures</Button>
              )}
            </Box>
            <Record />
          </>
        )
      }
    </Answered>
  );
}

/** How far one's own cases were off, so far. */
function Record() {
  const { data } = useCasesRecord();
  if (data?.mean_error == null) return null;
  return (
    <Typography variant="caption" color="textSecondary">
      My likely cases so far: {data.years} years of {companies(data.companies)} came out, earnings{" "}
      {percent(data.mean_error)} off on average.
    </Typography>
  );
}

/** All three as they were worked out: what is kept does not change when later years change what is usual. */
const whole = (worked: Worked): Cases => ({
  made_on: worked.made_on,
  low: worked.low?.case ?? null,
  likely: worked.likely?.case ?? null,
  high: worked.high?.case ?? null,
});

function Edited({ worked, change, base, currency, price }: Props & { worked: Worked; change: (to: Cases) => void }) {
  const [course, setCourse] = useState<Course>("likely");
  const shown = worked[course];
  if (!shown) return null;
  const set = (to: Schemas["Case"]) => change({ ...whole(worked), [course]: to });
  return (
    <>
      <Typography variant="sentence" component="div" sx={{ mt: 1 }}>
        The <WordChoice means="Case" word={course} items={among(COURSES, course, (of) => of, setCourse)} /> case over{" "}
        <WordChoice
          means="Years"
          word={`${shown.case.years.length} years`}
          items={among(
            [3, 5, 7, 10],
            shown.case.years.length,
            (n) => `${n} years`,
            (n) => set(resized(shown.case, n)),
          )}
        />
        : worth <b className="brass">{worthOf(shown, currency)}</b>
        {price !== null && againstPrice(shown, price)}
      </Typography>
      <CaseFields shown={shown} habits={worked.habits} base={base} currency={currency} set={set} />
      <Outcomes worked={worked} />
      <TextField
        label="Why"
        fullWidth
        multiline
        value={shown.case.why ?? ""}
        onChange={(e) => set({ ...shown.case, why: e.target.value })}
        sx={{ mt: 1.5 }}
        slotProps={{ inputLabel: { shrink: true } }}
      />
    </>
  );
}

function resized(of: Schemas["Case"], years: number): Schemas["Case"] {
  const last = of.years.at(-1);
  return { ...of, years: Array.from({ length: years }, (_, i) => of.years[i] ?? last).filter((y) => y !== undefined) };
}

function worthOf(of: Schemas["CaseAnswer"], currency: string): string {
  const worth = numberOf(of.worth);
  return worth === null ? `nothing that could be computed (${of.worth.reason})` : `${money(worth)} ${currency}`;
}

function againstPrice(of: Schemas["CaseAnswer"], price: number): string {
  const worth = numberOf(of.worth);
  if (worth === null) return "";
  return `, the price is ${percent(Math.abs(1 - price / worth))} ${price < worth ? "below" : "above"} it`;
}

/** What the three come to, side by side. */
function Outcomes({ worked }: { worked: Worked }) {
  const rows = [
    ["By earnings and a sale", "worth_by_earnings", money],
    ["By cash", "worth_by_cash", money],
    ["Price to earnings of year 3", "price_to_third", (x: number) => plain(x, 1)],
    ["Price to earnings of year 5", "price_to_fifth", (x: number) => plain(x, 1)],
  ] as const;
  return (
    <Box sx={OUTCOMES}>
      <span />
      {COURSES.map((of) => (
        <b key={of} className="right">
          {of}
        </b>
      ))}
      {rows.map(([label, key, written]) => (
        <Box key={key} sx={{ display: "contents" }}>
          <span>{label}</span>
          {COURSES.map((of) => {
            const figure = worked[of]?.[key];
            const x = numberOf(figure);
            return (
              <span key={of} className="right" title={figure?.reason ?? undefined}>
                {x === null ? "–" : written(x)}
              </span>
            );
          })}
        </Box>
      ))}
    </Box>
  );
}

const OUTCOMES = {
  display: "grid",
  gridTemplateColumns: "210px repeat(3, 80px)",
  rowGap: 0.25,
  fontSize: 13,
  mt: 1,
  borderTop: `1px solid ${tint("hairline")}`,
  pt: 0.75,
};
