// What one thinks of a company: a note in Markdown and some fields, saved while one writes, with the versions before.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useEffect, useRef, useState } from "react";
import { api, type Schemas } from "../../../api/client";
import { type Note, saveNote, useNote } from "../../../api/evidence";
import { Answered } from "../../../components/Answered";
import { MenuButton } from "../../../components/menu/MenuButton";
import { useActions } from "../../../headless/actions";
import { useDraft } from "../../../headless/draft";
import { moment } from "../../../headless/format";
import { tint } from "../../../theme/theme";
import { type Saving, useSaving } from "./useSaving";

const Markdown = lazy(() => import("react-markdown"));

type Kept = Schemas["Kept_Note"];

export default function NoteSection({ symbol }: { symbol: string }) {
  return (
    <Answered answer={useNote(symbol)} rows={5}>
      {(kept) => <Written key={symbol} kept={kept} symbol={symbol} />}
    </Answered>
  );
}

const FIELDS = [
  ["management", "Management"],
  ["competition", "Competition"],
  ["outlook", "Outlook"],
] as const;

function Written({ kept, symbol }: { kept: Kept; symbol: string }) {
  const [draft, change] = useDraft<Note>(`note:${symbol}`, kept.own);
  const saving = useSaving(["note", symbol], kept, draft, (madeTo, note) => saveNote(symbol, madeTo, note));
  return (
    <Box sx={{ mt: 2, maxWidth: 720 }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
        <Typography variant="h3">My note</Typography>
        <State saving={saving} kept={kept} />
        <Box sx={{ flex: 1 }} />
        {kept.versions.length > 1 && <Versions kept={kept} take={change} />}
      </Box>
      {saving.error && <Refused saving={saving} take={() => change(kept.own)} />}
      <Text text={draft.text ?? ""} change={(text) => change({ ...draft, text })} />
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(3, minmax(0, 1fr))", gap: 1.5, mt: 2 }}>
        {FIELDS.map(([field, label]) => (
          <TextField
            key={field}
            label={label}
            multiline
            minRows={2}
            value={draft[field] ?? ""}
            onChange={(e) => change({ ...draft, [field]: e.target.value })}
            slotProps={{ inputLabel: { shrink: true } }}
          />
        ))}
      </Box>
    </Box>
  );
}

const SAID: Record<Saving["state"], string> = {
  saved: "",
  waiting: "not saved yet",
  saving: "saving…",
  refused: "not saved",
};

function State({ saving, kept }: { saving: Saving; kept: Kept }) {
  const saved = saving.state === "saved" && kept.saved_at ? `saved ${moment(kept.saved_at)}` : SAID[saving.state];
  return (
    <Typography variant="caption" color="textSecondary" role="status">
      {saved}
    </Typography>
  );
}

/** It was changed in another window, or cannot be kept: what one wrote stays. */
function Refused({ saving, take }: { saving: Saving; take: () => void }) {
  return (
    <Box role="alert" sx={{ my: 0.5 }}>
      <Typography variant="body2" color="error">
        {saving.error?.message}
      </Typography>
      <Button onClick={saving.insist}>Save mine</Button>
      <Button onClick={take}>Take what is kept</Button>
    </Box>
  );
}

/** The text as it reads, and while one writes as it is typed. */
function Text({ text, change }: { text: string; change: (to: string) => void }) {
  const [writing, setWriting] = useState(false);
  const field = useRef<HTMLTextAreaElement>(null);
  useActions([{ keys: "n", label: "Write a note", run: () => setWriting(true) }]);
  useEffect(() => {
    if (!writing) return;
    field.current?.focus();
    field.current?.scrollIntoView({ block: "center" });
  }, [writing]);
  if (!writing) {
    return (
      <Box sx={{ borderLeft: `3px solid ${tint("brass")}`, pl: 1.5, my: 1 }}>
        {text.trim() && (
          <Suspense fallback={<Typography variant="sentence">{text}</Typography>}>
            <Box className="serif" sx={READ}>
              <Markdown>{text}</Markdown>
            </Box>
          </Suspense>
        )}
        <Button sx={{ ml: -0.6 }} onClick={() => setWriting(true)}>
          {text.trim() ? "Write on (n)" : "Write a note (n)"}
        </Button>
      </Box>
    );
  }
  return (
    <TextField
      fullWidth
      multiline
      minRows={5}
      value={text}
      inputRef={field}
      onChange={(e) => change(e.target.value)}
      onBlur={() => setWriting(false)}
      onKeyDown={(e) => e.key === "Escape" && setWriting(false)}
      placeholder="What speaks for it, what against it, what would prove me wrong? # heading, **bold**, - list"
      sx={{ my: 1 }}
      slotProps={{ htmlInput: { "aria-label": "My note" } }}
    />
  );
}

const READ = {
  fontSize: 16,
  "& p, & ul, & ol": { my: 0.75 },
  "& h1, & h2, & h3": { fontSize: 17, my: 1 },
  "& a": { color: tint("teal") },
};

function Versions({ kept, take }: { kept: Kept; take: (note: Note) => void }) {
  const back = async (version: number) => {
    const then = await api.document(kept.id ?? "", version);
    take((then.body as { own: Note }).own);
  };
  return (
    <MenuButton
      label="Versions ▾"
      items={kept.versions.toReversed().map((v) => ({
        label: `Version ${v.version}, ${moment(v.saved_at)}`,
        chosen: v.version === kept.version,
        run: () => void back(v.version),
      }))}
    />
  );
}
