// What is asked of files in bulk: of prices their unit, of series what they are, of filers who is wanted.
import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { counted } from "../../headless/format";
import { tint } from "../../theme/theme";
import { Choice } from "./Choice";
import { CurrencyField } from "./CurrencyField";

export type Observed = Schemas["ObservationFile"];
export type ObservationAnswers = Schemas["ObservationAnswers"];

const SERIES = [
  ["government_10y_yield", "government 10y yield"],
  ["aaa_corporate_yield", "aaa corporate yield"],
  ["inflation", "inflation"],
] as const;

function Asked({ title, words, children }: { title: string; words: string; children?: ReactNode }) {
  return (
    <Box
      role="group"
      aria-label={title}
      sx={{ borderTop: `1px solid ${tint("hairline")}`, py: 1, display: "flex", flexDirection: "column", gap: 1.25 }}
    >
      <Box>
        <Typography variant="body2" sx={{ fontWeight: 600, overflowWrap: "anywhere" }}>
          {title}
        </Typography>
        <Typography variant="body2" color="textSecondary">
          {words}
        </Typography>
      </Box>
      {children}
    </Box>
  );
}

/** Files of prices, one a symbol or one a day; which of them are in minor units. */
export function PricesAsked({
  files,
  hundredths,
  change,
}: {
  files: string[];
  hundredths: string[];
  change: (to: string[]) => void;
}) {
  const title = files.length === 1 ? (files[0] ?? "") : `${counted(files.length, "file")} of prices`;
  return (
    <Asked
      title={title}
      words="One a symbol or one a day, called by it. Symbols that are not listed are left out and counted."
    >
      <Autocomplete
        multiple
        size="small"
        limitTags={3}
        options={["all files", ...files]}
        value={hundredths}
        onChange={(_, to) => change(to.includes("all files") ? ["all files"] : to)}
        renderInput={(params) => (
          <TextField
            {...params}
            label="In hundredths of the currency (÷ 100)"
            placeholder={hundredths.length === 0 ? "none" : ""}
          />
        )}
      />
    </Asked>
  );
}

/** A file of observations: which series it is, and which value of each dimension. */
export function ObservationsAsked({
  file,
  answers,
  change,
}: {
  file: Observed;
  answers: ObservationAnswers;
  change: (to: ObservationAnswers) => void;
}) {
  if (file.table === "fx") {
    return <Asked title={file.file} words="Exchange rates: the daily spot rates in it are taken." />;
  }
  return (
    <Asked title={file.file} words="A series of rates.">
      <Choice
        label="Series"
        value={answers.series ?? ""}
        options={SERIES}
        change={(series) => change({ ...answers, series })}
      />
      {!file.has_currency && (
        <CurrencyField
          label="Currency"
          value={answers.currency ?? ""}
          change={(to) => change({ ...answers, currency: to || null })}
        />
      )}
      {Object.entries(file.dimensions).map(([name, values]) => (
        <Choice
          key={name}
          label={name}
          value={answers.chosen?.[name] ?? ""}
          options={values.map((v) => [v, v] as const)}
          change={(v) => change({ ...answers, chosen: { ...answers.chosen, [name]: v } })}
        />
      ))}
    </Asked>
  );
}

/** Whether all that is asked of a file of observations is answered. */
export const isChosen = (file: Observed, answers: ObservationAnswers): boolean =>
  file.table === "fx" ||
  (!!answers.series &&
    (file.has_currency || (answers.currency ?? "").length === 3) &&
    Object.keys(file.dimensions).every((name) => answers.chosen?.[name]));

/** Sets of a whole register: whose filings of it are taken. */
export function FilersAsked({
  knownOnly,
  only,
  change,
}: {
  knownOnly: boolean;
  only: string;
  change: (to: { knownOnly?: boolean; only?: string }) => void;
}) {
  return (
    <Asked title="Filers" words="The sets hold every filer of their register.">
      <Choice
        label="Filers that are not here yet"
        value={knownOnly ? "known" : "all"}
        options={[
          ["all", "become new companies"],
          ["known", "are left out"],
        ]}
        change={(to) => change({ knownOnly: to === "known" })}
      />
      <TextField
        label="Only these companies"
        helperText="Left empty: all. Symbols, ISINs or numbers, separated by commas."
        value={only}
        onChange={(e) => change({ only: e.target.value })}
      />
    </Asked>
  );
}
