// What a filing does not say itself: whose it is, and on which day it became public.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { counted, day } from "../../headless/format";
import { tint } from "../../theme/theme";
import { CompanyField } from "./CompanyField";

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
          <CompanyField
            chosen={answers.company_id ? { id: answers.company_id, name: filing.company ?? answers.company_id } : null}
            hint={filing.identifier ? `Nobody is known by ${filing.identifier} yet: your choice is remembered.` : ""}
            choose={(c) =>
              change({ ...filing, company: c?.name ?? null, answers: { ...answers, company_id: c?.id ?? null } })
            }
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
