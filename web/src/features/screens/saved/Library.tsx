// The screens that are kept, by folder, and those that ship, which are opened as a copy.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Drawer from "@mui/material/Drawer";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Schemas, type Screen } from "../../../api/client";
import { useReadyScreens } from "../../../api/queries";
import { MenuButton } from "../../../components/menu/MenuButton";
import { day } from "../../../headless/format";
import { told } from "../../../headless/notice";
import { unsaved } from "../../../headless/screenState";
import { shareItem } from "../../../headless/sharing";
import { tint } from "../../../theme/theme";
import { OfReadyMade, TestReadyMade } from "../../backtests/OfReadyMade";
import type { Edited } from "../useEdited";
import { fileOf, freeName, type Kept, useDelete, useSave } from "./saving";

interface Props {
  all: Kept[];
  open: Edited["open"];
  close: () => void;
}

export function Library({ all, open, close }: Props) {
  const client = useQueryClient();
  const save = useSave();
  const [problem, setProblem] = useState<string | null>(null);
  const told = (wrong: Error) => setProblem(wrong.message);
  const remove = useDelete(told);
  const contents = (id: string) =>
    client.fetchQuery({ queryKey: ["document", id], queryFn: () => api.document(id), staleTime: 0 });
  const openKept = (id: string) =>
    contents(id).then((found) => {
      open({ screen: found.body as Screen, doc: id, version: found.version }, true);
      close();
    }, told);
  const copy = (k: Kept) =>
    contents(k.id).then(async (found) => {
      const as = { name: freeName(k.name, all), folder: k.folder, note: k.note };
      await save.mutateAsync({ to: null, file: fileOf(found.body as Screen, as) });
    }, told);
  const readFile = (file: File | undefined) =>
    file
      ?.text()
      .then((text) => openFile(text, all, open))
      .then(close, () => setProblem(`${file.name} holds no screen: it is not JSON of the documented form.`));
  const folders = [...new Set(all.map((k) => k.folder))];
  return (
    <Drawer anchor="left" open onClose={close} slotProps={{ paper: { "aria-label": "Screens" } }}>
      <Box sx={{ width: 440, maxWidth: "92vw", p: 2 }}>
        <Box sx={{ display: "flex", alignItems: "center", mb: 1 }}>
          <Typography variant="h2" sx={{ flex: 1 }}>
            Screens
          </Typography>
          <Button component="label">
            From a file…
            <input type="file" accept=".json" hidden onChange={(e) => void readFile(e.target.files?.[0])} />
          </Button>
          <Button onClick={close}>Close</Button>
        </Box>
        {problem && (
          <Alert severity="warning" variant="outlined" icon={false} sx={{ mb: 1 }} onClose={() => setProblem(null)}>
            {problem}
          </Alert>
        )}
        {all.length === 0 && (
          <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
            None of your own yet. Build one, or open a ready-made one below and change it; “Save…” keeps it here, with
            every version.
          </Typography>
        )}
        {folders.map((folder) => (
          <Folder
            key={folder}
            name={folder}
            kept={all.filter((k) => k.folder === folder)}
            openKept={openKept}
            copy={copy}
            remove={remove}
          />
        ))}
        <ReadyMade
          take={(screen) => {
            open(unsaved(screen));
            close();
          }}
        />
      </Box>
    </Drawer>
  );
}

interface FolderProps {
  name: string;
  kept: Kept[];
  openKept: (id: string) => Promise<void>;
  copy: (k: Kept) => Promise<void>;
  remove: (k: Kept) => void;
}

function Folder({ name, kept, openKept, copy, remove }: FolderProps) {
  return (
    <Box component="section" sx={{ mb: 1.5 }}>
      {name && (
        <Typography variant="h3" component="h3" sx={{ mb: 0.25 }}>
          {name.replaceAll("/", " › ")}
        </Typography>
      )}
      {kept.map((k) => (
        <Row key={k.id} name={k.name} says={k.note} run={() => void openKept(k.id)}>
          <Typography variant="caption" color="textSecondary" sx={{ whiteSpace: "nowrap" }}>
            {day(k.saved_at.slice(0, 10))}
          </Typography>
          <MenuButton
            label="▾"
            means={`What can be done with ${k.name}`}
            items={[
              { label: "Duplicate", run: () => void copy(k) },
              { label: "Save as a file", run: () => void told(api.downloadDocument(k.id, k.name)) },
              ...shareItem({ kind: "document", id: k.id, name: k.name }),
              { label: "Delete", run: () => remove(k) },
            ]}
          />
        </Row>
      ))}
    </Box>
  );
}

function ReadyMade({ take }: { take: (screen: Screen) => void }) {
  const ready = useReadyScreens().data ?? [];
  return (
    <>
      <Typography variant="h3" component="h3" sx={{ mt: 2, mb: 0.25 }}>
        Ready-made, opened as a copy
      </Typography>
      <TestReadyMade ids={ready.map((r) => ({ id: r.id, name: r.screen.name ?? "" }))} />
      {ready.map((r) => (
        <Row
          key={r.id}
          name={r.screen.name ?? r.id}
          says={r.reasoning}
          run={() => take(r.screen)}
          more={<OfReadyMade screen={r.screen.name ?? ""} />}
        />
      ))}
    </>
  );
}

/** A screen of a file: one of the documented form, alone or as it was kept. */
function openFile(text: string, all: Kept[], open: Edited["open"]) {
  const read = JSON.parse(text) as Screen & Partial<Schemas["DocumentFile"]>;
  const body = (read.kind === "screen" ? read.body : read) as Screen;
  if (!Array.isArray(body?.blocks)) throw new Error("no screen");
  open(unsaved({ ...body, name: freeName(read.name ?? body.name ?? "Screen", all) }));
}

interface RowProps {
  name: string;
  says: string;
  run: () => void;
  /** Under what it says. */
  more?: React.ReactNode;
  children?: React.ReactNode;
}

function Row({ name, says, run, more, children }: RowProps) {
  return (
    <Box
      sx={{ display: "flex", alignItems: "baseline", gap: 0.5, py: 0.5, borderTop: `1px solid ${tint("hairline")}` }}
    >
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Link component="button" onClick={run} sx={{ fontWeight: 600, textAlign: "left" }}>
          {name}
        </Link>
        {says && (
          <Typography variant="body2" color="textSecondary" sx={{ whiteSpace: "pre-line" }}>
            {says}
          </Typography>
        )}
        {more}
      </Box>
      {children}
    </Box>
  );
}
