// Bringing data in: files dropped or chosen, columns mapped where need be, progress, what became of it.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { type DragEvent, useRef, useState } from "react";
import { api, type Job, type Schemas, type Upload } from "../../api/client";
import { useJobs } from "../../api/queries";
import { counted, moment, plain } from "../../headless/format";
import { type Brought, filesOf, droppedFiles } from "../../headless/dropped";
import { tint } from "../../theme/theme";
import { Brings } from "./Brings";
import { OfFilings } from "./OfFilings";

export function Imports({ history }: { history: Schemas["ImportEntry"][] }) {
  const jobs = useJobs();
  const running = jobs.find((j) => j.state === "running");
  const [upload, setUpload] = useState<Upload | null>(null);
  const [problem, setProblem] = useState("");
  const [sending, setSending] = useState(false);
  const bring = async (files: Brought[]) => {
    if (files.length === 0) return;
    setProblem("");
    setSending(true);
    try {
      setUpload(await api.upload(files));
    } catch (e) {
      setProblem((e as Error).message);
    }
    setSending(false);
  };
  return (
    <Box component="section">
      <Typography variant="h2" sx={{ mb: 1 }}>
        Import
      </Typography>
      {running ? (
        <Running job={running} />
      ) : upload ? (
        <Brings upload={upload} close={() => setUpload(null)} />
      ) : (
        <DropZone bring={bring} sending={sending} />
      )}
      {problem && (
        <Typography role="alert" variant="body2" color="error" sx={{ mt: 1 }}>
          {problem} Nothing was changed.
        </Typography>
      )}
      {!running && jobs[0] && <Ended job={jobs[0]} />}
      <History entries={history} />
    </Box>
  );
}

function DropZone({ bring, sending }: { bring: (files: Brought[]) => void; sending: boolean }) {
  const input = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const drop = async (e: DragEvent) => {
    e.preventDefault();
    setOver(false);
    bring(await droppedFiles(e.dataTransfer));
  };
  return (
    <Box
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      sx={{
        border: `1px dashed ${over ? tint("brass") : tint("history")}`,
        bgcolor: over ? tint("brassWash") : "transparent",
        borderRadius: 1,
        p: 2,
        textAlign: "center",
      }}
    >
      <Typography>{sending ? "Reading the files …" : "Drop files or a folder here"}</Typography>
      <Typography variant="body2" color="textSecondary">
        a Data Package; tables as CSV, workbook or Parquet; filings; regulators' bulk files; folders of prices
      </Typography>
      <Box sx={{ mt: 1, display: "flex", justifyContent: "center", gap: 1 }}>
        <Button disabled={sending} onClick={() => input.current?.click()}>
          Choose files
        </Button>
        <Button disabled={sending} onClick={() => folder.current?.click()}>
          Choose a folder
        </Button>
      </Box>
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label="Files to import"
        onChange={(e) => bring(filesOf(e.target))}
      />
      <input
        ref={(el) => {
          el?.setAttribute("webkitdirectory", "");
          folder.current = el;
        }}
        type="file"
        multiple
        hidden
        aria-label="Folder to import"
        onChange={(e) => bring(filesOf(e.target))}
      />
    </Box>
  );
}

function Running({ job }: { job: Job }) {
  const left =
    job.share > 0 && job.rows_per_second > 0 ? (job.rows / job.share - job.rows) / job.rows_per_second : null;
  return (
    <Paper sx={{ p: 1.5 }} role="status" aria-label="Import in progress">
      <Typography sx={{ fontWeight: 600, overflowWrap: "anywhere" }}>{job.title}</Typography>
      <LinearProgress
        variant="determinate"
        value={Math.min(job.share * 100, 100)}
        color="secondary"
        sx={{ my: 1, height: 6, borderRadius: 1, bgcolor: tint("hairline") }}
      />
      <Typography variant="body2">
        {plain(job.rows, 0)} rows, {plain(job.share * 100, 0)} %
        {job.share >= 1 ? ", storing them" : job.table ? `, reading ${job.table.replaceAll("_", " ")}` : ""}
      </Typography>
      <Typography variant="body2" color="textSecondary">
        {plain(job.rows_per_second, 0)} rows a second
        {left !== null && left > 1 && left < 36_000 ? `, about ${plain(left, 0)} s left` : ""}
      </Typography>
      <Button sx={{ mt: 0.5, ml: -0.5 }} onClick={() => api.cancelJob(job.id)}>
        Cancel
      </Button>
    </Paper>
  );
}

const ENDS: Record<string, [string, "teal" | "clay" | "second"]> = {
  done: ["Imported", "teal"],
  refused: ["Refused", "clay"],
  cancelled: ["Cancelled", "second"],
};

function Ended({ job }: { job: Job }) {
  const [words, colour] = ENDS[job.state] ?? ["", "second"];
  const bad = job.report?.bad ?? [];
  return (
    <Paper sx={{ p: 1.5, mt: 1.5 }} data-testid="ended">
      <Typography sx={{ overflowWrap: "anywhere" }}>
        <b style={{ color: tint(colour) }}>{words}</b> {job.title}
        {job.report && job.state === "done" && `: ${counted(job.report.rows, "row")}`}
      </Typography>
      {job.message && (
        <Typography variant="body2" sx={{ mt: 0.5, overflowWrap: "anywhere" }}>
          {bad.length > 0
            ? `${counted(job.report?.bad_rows ?? 0, "bad row")}, so nothing was imported. Correct the file, or import it again without the bad rows.`
            : job.message}
        </Typography>
      )}
      {bad.slice(0, 5).map((b) => (
        <Typography key={`${b.file}${b.line}${b.column}`} variant="body2" color="textSecondary" sx={{ mt: 0.5 }}>
          {b.file}
          {b.line > 0 && `, line ${b.line}`}, {b.column}: “{b.value}” is not {b.expected}. {b.remedy}
        </Typography>
      ))}
      {(job.report?.kept_out ?? []).slice(0, 4).map((k) => (
        <Typography key={k} variant="body2" color="textSecondary">
          Ignored, unknown file or column: {k}
        </Typography>
      ))}
      {job.report && <OfFilings report={job.report} />}
      {(job.report?.odd_codes ?? []).length > 0 && (
        <Typography variant="body2" color="textSecondary">
          Taken as they are: {job.report?.odd_codes.slice(0, 6).join("; ")}
        </Typography>
      )}
    </Paper>
  );
}

function History({ entries }: { entries: Schemas["ImportEntry"][] }) {
  if (entries.length === 0) return null;
  return (
    <Box sx={{ mt: 2 }}>
      <Typography variant="h3" sx={{ mb: 0.5 }}>
        Imports before
      </Typography>
      {entries.slice(0, 12).map((e) => {
        const [words, colour] = ENDS[e.outcome] ?? [e.outcome, "second"];
        return (
          <Box key={e.id} sx={{ py: 0.5, borderTop: `1px solid ${tint("hairline")}`, fontSize: 13 }} title={e.message}>
            <Box sx={{ display: "flex", gap: 1 }}>
              <span style={{ flex: 1, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
                {e.title}
              </span>
              <span className="faint nowrap">{moment(e.finished_at)}</span>
            </Box>
            <span style={{ color: tint(colour) }}>{words}</span>
            <span className="second">
              {e.outcome === "done" ? ` ${counted(e.rows, "row")}` : ""}
              {e.bad_rows > 0 ? `, ${plain(e.bad_rows, 0)} bad ` : ""}
            </span>
            {e.bad_rows > 0 && (
              <Link href={`/api/imports/${e.id}/report.csv`} download>
                Report
              </Link>
            )}
          </Box>
        );
      })}
    </Box>
  );
}
