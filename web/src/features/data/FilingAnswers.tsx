// What a filing does not say itself: whose it is, and on which day it became public.
import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useCompanyNames } from "../../api/queries";
import { counted, day } from "../../headless/format";
import { tint } from "../../theme/theme";

export type Filing = Schemas["FilingPreview"];

/** Whether all that is asked of a filing is answered; trades have the day of their signature. */
export const isAnswered = (f: Filing): boolean =>
  !f.problem && !!f.answers.company_id && (!!f.answers.filed_on || (f.of !== "statements" && !!f.suggested));

export function FilingAnswers({ filing, change }: { filing: Filing; change: (next: Filing) => void }) {
  const { answers } = filing;
  const answer = (part: Partial<Filing["answers"]>) => change({ ...filing, answers: { ...answers, ...part } });
  const what = [
    counted(filing.facts, filing.of === "statements" ? "fact" : "trade"),
    filing.name,
    filing.period_end ? `to ${day(filing.period_end)}` : "",
  ];
  return (
    <Box
      role="group"
      aria-label={filing.file}
      sx={{ borderTop: `1px solid ${tint("hairline")}`, py: 1, display: "flex", flexDirection: "column", gap: 1.25 }}
    >
      <Box>
        <Typography variant="body2" sx={{ fontWeight: 600, overflowWrap: "anywhere" }}>
          {filing.file}
        </Typography>
        {filing.problem ? (
          <Typography role="alert" variant="body2" color="error">
            It cannot be taken: {filing.problem}.
          </Typography>
        ) : (
          <Typography variant="body2" color="textSecondary">
            {what.filter((part) => part).join(", ")}
          </Typography>
        )}
      </Box>
      {!filing.problem && (
        <>
          <Whose
            filing={filing}
            set={(company_id, company) => change({ ...filing, company, answers: { ...answers, company_id } })}
          />
          <TextField
            type="date"
            label="Became public on"
            value={answers.filed_on ?? ""}
            onChange={(e) => answer({ filed_on: e.target.value || null })}
            helperText={
              filing.suggested && !answers.filed_on && filing.of !== "statements"
                ? `Left empty: the day of its signature, ${day(filing.suggested)}.`
                : ""
            }
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { max: "9999-12-31" } }}
          />
          {filing.suggested && !answers.filed_on && filing.of === "statements" && (
            <Button
              sx={{ alignSelf: "flex-start", ml: -0.5 }}
              onClick={() => answer({ filed_on: filing.suggested ?? null })}
            >
              Authorised on {day(filing.suggested)}: take that day
            </Button>
          )}
        </>
      )}
    </Box>
  );
}

/** The company, found by its identifier or chosen. */
function Whose({ filing, set }: { filing: Filing; set: (id: string | null, name: string | null) => void }) {
  const [typed, type] = useState("");
  const hits = useCompanyNames(typed).data ?? [];
  const options = hits.map((h) => ({ id: h.symbol, name: h.name }));
  const chosen = filing.answers.company_id
    ? { id: filing.answers.company_id, name: filing.company ?? filing.answers.company_id }
    : null;
  return (
    <Autocomplete
      size="small"
      options={typed.trim() === "" ? [] : options}
      filterOptions={(all) => all}
      value={chosen}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      getOptionLabel={(c) => c.name}
      inputValue={typed}
      onInputChange={(_, text) => type(text)}
      onChange={(_, to) => set(to?.id ?? null, to?.name ?? null)}
      noOptionsText={typed.trim() === "" ? "Type a name, a symbol or an ISIN" : "Nobody of that name"}
      renderInput={(params) => (
        <TextField
          {...params}
          label="Company"
          helperText={
            chosen || !filing.identifier
              ? ""
              : `Nobody is known by ${filing.identifier} yet: your choice is remembered.`
          }
        />
      )}
    />
  );
}
