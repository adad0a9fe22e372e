// Files that were brought: how they will be taken, what is asked of them, and the word to go.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, type Upload } from "../../api/client";
import { FilersAsked, isChosen, type ObservationAnswers, ObservationsAsked, PricesAsked } from "./BulkAnswers";
import { CsvMapping } from "./CsvMapping";
import { FilingAnswers, isAnswered } from "./FilingAnswers";

export function Brings({ upload, close }: { upload: Upload; close: () => void }) {
  const [skip, setSkip] = useState(false);
  const [problem, setProblem] = useState("");
  const [files, setFiles] = useState(upload.files);
  const [filings, setFilings] = useState(upload.filings);
  const [hundredths, setHundredths] = useState<string[]>([]);
  const [said, setSaid] = useState<Record<string, ObservationAnswers>>({});
  const [filers, setFilers] = useState({ knownOnly: false, only: "" });
  const answered = filings.filter(isAnswered);
  const observed = upload.observations.filter((o) => isChosen(o, said[o.file] ?? {}));
  const ready =
    observed.length === upload.observations.length &&
    (upload.is_package ||
      files.some((f) => f.mapping && !f.problem) ||
      answered.length + upload.unasked.length + upload.prices.length + observed.length > 0);
  const start = async () => {
    const mappings = files.flatMap((f) => (f.mapping && !f.problem ? [{ file: f.file, mapping: f.mapping }] : []));
    try {
      const divide = hundredths.map((f) => [f === "all files" ? "*" : (f.split("/").at(-1) ?? f), 100] as const);
      await api.startImport(upload.id, {
        skip_bad_rows: skip,
        mappings,
        filings: answered.map((f) => ({ file: f.file, answers: f.answers })),
        prices: { divide: Object.fromEntries(divide) },
        observations: observed.map((o) => ({ file: o.file, answers: said[o.file] ?? {} })),
        known_only: filers.knownOnly,
        only: filers.only.split(",").flatMap((key) => (key.trim() ? [key.trim()] : [])),
      });
      close();
    } catch (e) {
      setProblem((e as Error).message);
    }
  };
  return (
    <Paper sx={{ p: 1.5 }}>
      <Typography sx={{ fontWeight: 600, overflowWrap: "anywhere" }}>{upload.title}</Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {upload.is_package
          ? "A Data Package: its tables are taken as they are."
          : [
              files.length > 0 && "See how columns will be taken.",
              filings.length > 0 && "Say of filings whose they are and when they became public.",
            ]
              .filter((sentence) => sentence)
              .join(" ")}
      </Typography>
      {files.map((f, i) => (
        <CsvMapping
          key={f.file}
          upload={upload.id}
          preview={f}
          named={files.length > 1}
          change={(next) => setFiles(files.map((old, at) => (at === i ? next : old)))}
        />
      ))}
      {filings.map((f, i) => (
        <FilingAnswers
          key={f.file}
          filing={f}
          change={(next) => setFilings(filings.map((old, at) => (at === i ? next : old)))}
        />
      ))}
      {upload.prices.length > 0 && <PricesAsked files={upload.prices} hundredths={hundredths} change={setHundredths} />}
      {upload.observations.map((o) => (
        <ObservationsAsked
          key={o.file}
          file={o}
          answers={said[o.file] ?? {}}
          change={(to) => setSaid({ ...said, [o.file]: to })}
        />
      ))}
      {upload.brings_filers && <FilersAsked {...filers} change={(to) => setFilers({ ...filers, ...to })} />}
      {upload.unasked.length > 0 && (
        <Typography variant="body2" sx={{ mb: 0.5, overflowWrap: "anywhere" }}>
          Taken as they are: {upload.unasked.join(", ")}
        </Typography>
      )}
      {upload.ignored.length > 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mb: 0.5, overflowWrap: "anywhere" }}>
          Not taken, in no known format: {upload.ignored.map((f) => f.file).join(", ")}
        </Typography>
      )}
      {answered.length < filings.length && (
        <Typography variant="body2" sx={{ mb: 0.5 }}>
          {answered.length === 0
            ? "No filing is ready: each needs its company and its day."
            : `${answered.length} of ${filings.length} filings are taken; the others need their company and their day.`}
        </Typography>
      )}
      <FormControlLabel
        control={<Checkbox checked={skip} onChange={(e) => setSkip(e.target.checked)} />}
        label={<Typography variant="body2">Leave bad rows out and report them</Typography>}
      />
      {problem && (
        <Typography role="alert" variant="body2" color="error">
          {problem}
        </Typography>
      )}
      <Box sx={{ display: "flex", gap: 1, mt: 0.5 }}>
        <Button variant="contained" disabled={!ready} onClick={start}>
          Import
        </Button>
        <Button onClick={close}>Not now</Button>
      </Box>
    </Paper>
  );
}
