// Keeping it safe: copies of what is one's own, made each day or by hand, and the way back to one; what is damaged.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useCopyNow, useRestore, useSafety } from "../../api/queries";
import { Failed, Loading } from "../../components/States";
import { Table } from "../../components/Table";
import { bytes, count, moment } from "../../headless/format";
import { amongSeveral } from "../../headless/presence";
import { tint } from "../../theme/theme";

type Copy = Schemas["CopyEntry"];

export function Copies() {
  const safety = useSafety();
  const make = useCopyNow();
  if (safety.error) return <Failed error={safety.error} retry={() => void safety.refetch()} />;
  if (!safety.data) return <Loading rows={6} />;
  const { copies, own_damaged: own, dataset_damaged: dataset, damaged } = safety.data;
  return (
    <Box sx={{ maxWidth: 880, pt: 1 }}>
      <Typography variant="sentence">{said(safety.data)}</Typography>
      {own.length > 0 && <OwnDamage safety={safety.data} />}
      {dataset.length > 0 && (
        <Box component="section" sx={{ mt: 2 }}>
          <Typography variant="h2">Set aside from the dataset</Typography>
          <Box component="ul" sx={{ m: 0, pl: 2.5, maxHeight: 220, overflowY: "auto" }}>
            {dataset.map((d) => (
              <li key={d.sentence}>{d.sentence}</li>
            ))}
            {damaged > dataset.length && (
              <li>and {count(damaged - dataset.length)} more: `artemon check` lists them.</li>
            )}
          </Box>
        </Box>
      )}
      <Box component="section" sx={{ mt: 2.5 }}>
        <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, mb: 1 }}>
          <Typography variant="h2">Copies of your own work</Typography>
          <Button variant="outlined" loading={make.isPending} onClick={() => make.mutate(undefined)}>
            Copy now
          </Button>
        </Box>
        {make.error && <Problem error={make.error} />}
        <List copies={copies} />
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
          They hold your screens, lists, notes, assumptions, ledger and backtests, and lie in the folder copies beside
          your data. The last {count(safety.data.daily)} daily ones are kept. The dataset can be imported again;{" "}
          <code>artemon backup FOLDER</code> copies both while this server runs. Keep one on another disk.
        </Typography>
      </Box>
    </Box>
  );
}

function said({ copies, own_damaged: own, damaged, own_size, dataset_size }: Schemas["Safety"]): string {
  const newest = copies[0]
    ? `The newest copy of your own work is of ${moment(copies[0].made_at)}.`
    : "Your own work has no copy yet.";
  const sound =
    own.length > 0
      ? "Something of your own work is damaged."
      : damaged > 0
        ? `Something is damaged of ${count(damaged)} in the dataset; your own work is sound.`
        : "Nothing is damaged.";
  return `${sound} Your own work takes ${bytes(own_size)}, the dataset ${bytes(dataset_size)}. ${newest}`;
}

/** What of one's own is not as it was saved, and the newest sound copy. */
function OwnDamage({ safety }: { safety: Schemas["Safety"] }) {
  const sound = safety.copies.find((c) => c.name === safety.sound_copy);
  return (
    <Box role="alert" sx={{ mt: 2, p: 1.5, border: `1px solid ${tint("clay")}`, borderRadius: 1 }}>
      <Typography sx={{ fontWeight: 600 }}>Something of your own work is not as it was saved.</Typography>
      <Typography variant="body2">
        The disk changed it, or another program did: {safety.own_damaged.map((t) => t.replaceAll("_", " ")).join(", ")}.
        What is shown of it may be wrong, and no daily copies are made while it is so.{" "}
        {sound
          ? `The newest sound copy is of ${moment(sound.made_at)}.`
          : "None of the copies here is sound; put a backup back."}
      </Typography>
      {sound && <PutBack copy={sound} />}
    </Box>
  );
}

const WHY: Record<string, string> = {
  daily: "of the day",
  "by hand": "made by hand",
  "before an update": "before an update",
  replaced: "before another was put back",
};

function List({ copies }: { copies: Copy[] }) {
  if (copies.length === 0)
    return <Typography color="textSecondary">The first is made within a quarter of an hour.</Typography>;
  return (
    <Table
      label="Copies of your own work"
      left={[0, 1]}
      maxHeight={420}
      head={["Made", "Why", "Size", ""]}
      rows={copies.map((copy) => ({
        key: copy.name,
        cells: [
          moment(copy.made_at),
          WHY[copy.reason] ?? copy.reason,
          bytes(copy.size),
          <Box key="do" sx={{ display: "flex", gap: 1, justifyContent: "flex-end", alignItems: "center" }}>
            {!amongSeveral && (
              <Link href={`/api/copies/${encodeURIComponent(copy.name)}/file`} download sx={{ fontWeight: 600 }}>
                Save
              </Link>
            )}
            <PutBack copy={copy} />
          </Box>,
        ],
      }))}
    />
  );
}

/** Asked twice, since everything of one's own changes. */
function PutBack({ copy }: { copy: Copy }) {
  const restore = useRestore();
  const [asked, ask] = useState(false);
  if (!asked)
    return (
      <Button onClick={() => ask(true)} aria-label={`Put back the copy of ${moment(copy.made_at)}`}>
        Put back …
      </Button>
    );
  return (
    <Box sx={{ textAlign: "left", whiteSpace: "normal" }}>
      <Typography variant="body2">
        {amongSeveral ? "Everybody's work" : "All your own work"} goes back to {moment(copy.made_at)}. What is there now
        is kept as a copy.
      </Typography>
      <Button
        variant="contained"
        loading={restore.isPending}
        onClick={() => restore.mutate(copy.name, { onSuccess: () => ask(false) })}
      >
        Put it back
      </Button>
      <Button onClick={() => ask(false)}>Leave it</Button>
      {restore.error && <Problem error={restore.error} />}
    </Box>
  );
}

function Problem({ error }: { error: Error }) {
  return (
    <Typography role="alert" variant="body2" color="error">
      {error.message}
    </Typography>
  );
}
