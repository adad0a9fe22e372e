// Files that were brought: how they will be taken, what is asked of them, and the word to go.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { Upload } from "../../api/client";
import { FilersAsked, ObservationsAsked, PricesAsked } from "./BulkAnswers";
import { CsvMapping } from "./CsvMapping";
import { FilingAnswers } from "./FilingAnswers";
import { useBrought } from "./useBrought";

export function Brings({ upload, close }: { upload: Upload; close: () => void }) {
  const brought = useBrought(upload, close);
  const { files, filings, answered, skip, setSkip, problem, ready, start } = brought;
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
      <Asked upload={upload} brought={brought} />
      {upload.unasked.length > 0 && (
        <Typography variant="body2" sx={{ mb: 0.5, overflowWrap: "anywhere" }}>
          Taken as they are: {upload.unasked.join(", ")}
        </Typography>
      )}
      {upload.ignored.length > 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mb: 0.5, overflowWrap: "anywhere" }}>
          Not taken:{" "}
          {upload.ignored.map((f, i) => (
            <span key={f.file} title={f.reason}>
              {i > 0 && ", "}
              {f.file}
            </span>
          ))}
        </Typography>
      )}
      {answered < filings.length && (
        <Typography variant="body2" sx={{ mb: 0.5 }}>
          {answered === 0
            ? "No filing is ready: each needs its company and its day."
            : `${answered} of ${filings.length} filings are taken; the others need their company and their day.`}
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

/** What is asked of each file, or of several together. */
function Asked({ upload, brought }: { upload: Upload; brought: ReturnType<typeof useBrought> }) {
  const { files, setFiles, filings, setFilings, hundredths, setHundredths, said, setSaid, filers, setFilers } = brought;
  return (
    <>
      {files.map((f, i) => (
        <CsvMapping
          key={f.file}
          upload={upload.id}
          preview={f}
          named={files.length > 1}
          change={(part) => setFiles((all) => all.map((old, at) => (at === i ? { ...old, ...part } : old)))}
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
    </>
  );
}
