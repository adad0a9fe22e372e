// The lists by folder: chosen, made, and what companies are dropped on.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useState } from "react";
import type { Schemas } from "../../api/client";
import { MenuButton } from "../../components/menu/MenuButton";
import { useActions } from "../../headless/actions";
import { symbolsOf, useCompanyDrop } from "../../headless/dragged";
import { shareItem } from "../../headless/sharing";
import { tint } from "../../theme/theme";
import type { ListWork } from "./useListWork";

const NameDialog = lazy(async () => ({ default: (await import("./NameDialog")).NameDialog }));

type Entry = Schemas["ListEntry"];

interface Props {
  all: Entry[];
  chosen: string | undefined;
  choose: (id: string) => void;
  work: ListWork;
  told: (problem: string) => void;
}

export function ListNames({ all, chosen, choose, work, told }: Props) {
  const [naming, setNaming] = useState<Entry | "new" | null>(null);
  const folders = [...new Set(all.map((l) => l.folder))];
  const step = (by: number) => () => {
    const at = all.findIndex((l) => l.id === chosen);
    const next = all[(at + by + all.length) % all.length];
    if (next) choose(next.id);
  };
  useActions([
    { label: "New list", run: () => setNaming("new") },
    { keys: "]", label: "Next list", run: step(1) },
    { keys: "[", label: "Previous list", run: step(-1) },
  ]);
  return (
    <Box component="nav" aria-label="Lists" sx={{ overflowY: "auto", p: 2, maxHeight: { xs: 220, md: "none" } }}>
      <Box sx={{ display: "flex", alignItems: "baseline", mb: 0.5 }}>
        <Typography variant="h2" component="h1" sx={{ flex: 1 }}>
          Lists
        </Typography>
        <Button onClick={() => setNaming("new")}>New</Button>
      </Box>
      {folders.map((folder) => (
        <Box key={folder} sx={{ mb: 1 }}>
          {folder && (
            <Typography variant="caption" color="textSecondary" component="h2" sx={{ mt: 1 }}>
              {folder.replaceAll("/", " › ")}
            </Typography>
          )}
          {all
            .filter((l) => l.folder === folder)
            .map((l) => (
              <Name
                key={l.id}
                list={l}
                here={l.id === chosen}
                choose={() => choose(l.id)}
                work={work}
                rename={() => setNaming(l)}
              />
            ))}
        </Box>
      ))}
      <Typography
        variant="caption"
        color="textDisabled"
        component="p"
        sx={{ mt: 1.5, display: { xs: "none", md: "block" } }}
      >
        Drag companies here from the table or the tray; with Ctrl they stay where they were. By key: l puts one on a
        list, m moves it.
      </Typography>
      <Suspense>
        {naming !== null && (
          <NameDialog
            list={naming === "new" ? null : naming}
            folders={folders.filter(Boolean)}
            save={async (name, folder) => {
              if (naming === "new") choose(await work.make(name, folder));
              else await work.rename(naming.id, name, folder);
              setNaming(null);
            }}
            close={() => setNaming(null)}
            told={told}
          />
        )}
      </Suspense>
    </Box>
  );
}

interface NameProps {
  list: Entry;
  here: boolean;
  choose: () => void;
  work: ListWork;
  rename: () => void;
}

function Name({ list, here, choose, work, rename }: NameProps) {
  const { over, onto } = useCompanyDrop((what, copy) => {
    if (what.from === list.id) return;
    if (what.from) work.move(what.from, list, symbolsOf(what), copy);
    else void work.add(list.id, list.name, symbolsOf(what), what.found);
  });
  return (
    <Box
      {...onto}
      data-testid="list-name"
      sx={{
        display: "flex",
        alignItems: "center",
        borderRadius: 1,
        bgcolor: over ? tint("brassWash") : here ? tint("tray") : "transparent",
        outline: over ? `1px solid ${tint("brass")}` : "none",
      }}
    >
      <Button
        onClick={choose}
        aria-current={here ? "true" : undefined}
        sx={{ flex: 1, justifyContent: "flex-start", color: tint("ink"), fontWeight: here ? 600 : 500, minWidth: 0 }}
      >
        <Box component="span" sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
          {list.name}
        </Box>
        <Box component="span" className="faint light" sx={{ ml: 0.75 }}>
          {list.symbols.length}
        </Box>
      </Button>
      {here && (
        <MenuButton
          label="▾"
          means={`What can be done with ${list.name}`}
          items={[
            { label: "Name and folder…", run: rename },
            ...shareItem({ kind: "document", id: list.id, name: list.name }),
            { label: "Delete", run: () => work.drop(list.id, list.name) },
          ]}
          sx={{ minWidth: 28, color: tint("second") }}
        />
      )}
    </Box>
  );
}
