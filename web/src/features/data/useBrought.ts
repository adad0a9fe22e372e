// What is said of files that were brought, and whether it is enough to begin.
import { useState } from "react";
import { api, type Upload } from "../../api/client";
import { isChosen, type ObservationAnswers } from "./BulkAnswers";
import type { MappedFile } from "./CsvMapping";
import { isAnswered } from "./FilingAnswers";

export function useBrought(upload: Upload, close: () => void) {
  const [skip, setSkip] = useState(false);
  const [problem, setProblem] = useState("");
  const [files, setFiles] = useState<MappedFile[]>(upload.files);
  const [filings, setFilings] = useState(upload.filings);
  const [hundredths, setHundredths] = useState<string[]>([]);
  const [said, setSaid] = useState<Record<string, ObservationAnswers>>({});
  const [filers, setFilers] = useState({ knownOnly: false, only: "" });
  const answered = filings.filter(isAnswered);
  const observed = upload.observations.filter((o) => isChosen(o, said[o.file] ?? {}));
  const mappings = files.flatMap((f) => (f.mapping && !f.problem ? [{ file: f.file, mapping: f.mapping }] : []));
  const parts = [mappings, answered, upload.unasked, upload.prices, observed];
  const ready =
    !files.some((f) => f.reading) &&
    observed.length === upload.observations.length &&
    (upload.is_package || parts.some((part) => part.length > 0));
  const start = async () => {
    const divide = hundredths.map((f) => [f === "all files" ? "*" : (f.split("/").at(-1) ?? f), 100] as const);
    try {
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
  return {
    skip,
    setSkip,
    problem,
    ready,
    start,
    files,
    setFiles,
    filings,
    setFilings,
    answered: answered.length,
    hundredths,
    setHundredths,
    said,
    setSaid,
    filers,
    setFilers,
  };
}
