// Under the name of a screen: those that are kept, a new one, and keeping this one.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { lazy, Suspense, useState } from "react";
import { api } from "../../../api/client";
import { useDocuments } from "../../../api/queries";
import { shareItem } from "../../../headless/sharing";
import { told } from "../../../headless/notice";
import { MenuButton } from "../../../components/menu/MenuButton";
import { useActions } from "../../../headless/actions";
import { EMPTY, unsaved } from "../../../headless/screenState";
import type { Edited } from "../useEdited";
import { fileOf, freeName, type Kept, type Naming, useDelete, useSave } from "./saving";

const Library = lazy(async () => ({ default: (await import("./Library")).Library }));
const SaveForm = lazy(async () => ({ default: (await import("./SaveForm")).SaveForm }));
const Versions = lazy(async () => ({ default: (await import("./Versions")).Versions }));

type Open = "library" | "save" | "copy" | "rename" | "versions" | null;

export function Keeping({ working }: { working: Edited }) {
  const { screen, doc, version, saved, changed, open, keptAs } = working;
  const [shown, show] = useState<Open>(null);
  const all = useDocuments("screen").data ?? [];
  const save = useSave();
  const [problem, setProblem] = useState<string | null>(null);
  const remove = useDelete((why) => setProblem(why.message));
  const keep = (as: Naming, anew: boolean) => {
    const to = anew || !doc || version === null ? null : { doc, version };
    return save.mutateAsync({ to, file: fileOf(screen, as) }).then((kept) => {
      keptAs(kept.id, kept.version, kept.name);
      show(null);
    });
  };
  const saveNow = () => (doc ? void keep(namingOf(working), false).catch(shownBelow) : show("save"));
  const startAnew = () => open(unsaved(EMPTY));
  const newer = saved && version !== null && saved.version > version ? saved.version : null;
  useActions([
    { keys: "ctrl+s", label: "Save the screen", run: saveNow },
    { label: "Open a screen", run: () => show("library") },
    { label: "New screen", run: startAnew },
    ...(doc ? [{ label: "Versions of the screen", run: () => show("versions") }] : []),
  ]);
  const items = saved && [
    { label: "Save a copy…", run: () => show("copy") },
    { label: "Name, folder and note…", run: () => show("rename") },
    { label: "Versions…", run: () => show("versions") },
    { label: "Save as a file", run: () => void told(api.downloadDocument(saved.id, saved.name)) },
    ...shareItem({ kind: "document", id: saved.id, name: saved.name }),
    { label: "Delete", run: () => remove(saved) },
  ];
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", ml: -0.6, mb: 0.5 }}>
        <Button onClick={() => show("library")}>Screens</Button>
        <Button onClick={startAnew}>New</Button>
        <Button onClick={saveNow} disabled={!changed || save.isPending}>
          {doc ? (changed ? "Save changes" : "Saved") : "Save…"}
        </Button>
        {items && <MenuButton label="More ▾" means="What can be done with this screen" items={items} />}
      </Box>
      {newer !== null && (
        <Alert
          severity="info"
          variant="outlined"
          icon={false}
          sx={{ mb: 1 }}
          action={<Button onClick={() => show("versions")}>Compare</Button>}
        >
          Version {newer} was saved elsewhere since you began with version {version}.
        </Alert>
      )}
      {(problem ?? save.error) && shown === null && (
        <Alert
          severity="warning"
          variant="outlined"
          icon={false}
          sx={{ mb: 1 }}
          onClose={() => {
            setProblem(null);
            save.reset();
          }}
        >
          {problem ?? save.error?.message}
        </Alert>
      )}
      <Dialogs working={working} all={all} shown={shown} keep={keep} close={() => show(null)} />
    </>
  );
}

const namingOf = ({ screen, saved }: Edited): Naming => ({
  name: screen.name ?? "",
  folder: saved?.folder ?? "",
  note: saved?.note ?? "",
});

const TITLES = { save: "Save this screen", copy: "Save a copy", rename: "Name, folder and note" };

interface DialogsProps {
  working: Edited;
  all: Kept[];
  shown: Open;
  keep: (as: Naming, anew: boolean) => Promise<void>;
  close: () => void;
}

/** What is opened over the page; each is loaded when it is first wanted. */
function Dialogs({ working, all, shown, keep, close }: DialogsProps) {
  const naming = namingOf(working);
  return (
    <Suspense>
      {shown === "library" && <Library all={all} open={working.open} close={close} />}
      {(shown === "save" || shown === "copy" || shown === "rename") && (
        <SaveForm
          title={TITLES[shown]}
          naming={shown === "copy" ? { ...naming, name: freeName(naming.name, all) } : naming}
          folders={[...new Set(all.map((k) => k.folder).filter(Boolean))]}
          save={(as) => keep(as, shown !== "rename")}
          close={close}
        />
      )}
      {shown === "versions" && working.saved && <Versions saved={working.saved} working={working} close={close} />}
    </Suspense>
  );
}

/** A refusal is shown under the buttons. */
const shownBelow = () => {};
