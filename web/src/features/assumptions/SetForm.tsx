// One assumption set as a form: saved as the next version, used, deleted, or looked at as it once was.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { ShareButton } from "../../components/ShareButton";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { type AssumptionSet, type Assumptions, api } from "../../api/client";
import { useAssuming } from "../../api/queries";
import { useDraft } from "../../headless/draft";
import { day } from "../../headless/format";
import { Effect } from "./Effect";
import { Fields } from "./Fields";
import { QualityScale } from "./QualityScale";

interface Props {
  set: AssumptionSet;
  /** The version shown. */
  assumptions: Assumptions;
  all: AssumptionSet[];
  saved: (name: string) => void;
  toVersion: (version: number) => void;
  forgotten: () => void;
}

export function SetForm({ set, assumptions, all, saved, toVersion, forgotten }: Props) {
  const [draft, change, letGo] = useDraft(`assumptions:${assumptions.name}:${assumptions.version}`, assumptions);
  const [name, setName] = useState(set.shipped ? "" : assumptions.name);
  const changed = JSON.stringify(draft) !== JSON.stringify(assumptions);
  const earlier = assumptions.version !== set.assumptions.version;
  const save = useAssuming(api.saveAssumptions);
  const use = useAssuming(api.adoptAssumptions);
  const forget = useAssuming(api.deleteAssumptions);
  const error = save.error ?? use.error ?? forget.error;
  const nothingNew = !changed && !earlier && name.trim() === assumptions.name;
  // A version saved elsewhere since this page was read is not overwritten.
  const toSave = {
    set: { ...draft, name },
    ...(!set.shipped && name.trim() === set.assumptions.name && { madeTo: set.assumptions.version }),
  };
  // Promises, since the form of another set may stand here before they are kept.
  const keptAs = (as: string) => () => {
    letGo();
    saved(as);
  };
  return (
    <Box sx={{ overflowY: "auto", px: 3, py: 2 }}>
      <Box sx={{ display: "flex", gap: 1.25, alignItems: "center", flexWrap: "wrap", pb: 1.5 }}>
        <TextField
          label="Save as"
          value={name}
          placeholder="A name of your own"
          onChange={(e) => setName(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
          sx={{ width: 220 }}
        />
        <Button
          variant="contained"
          disabled={name.trim() === "" || save.isPending || nothingNew}
          onClick={() => save.mutateAsync(toSave).then(keptAs(name.trim()), shownBelow)}
        >
          Save and use
        </Button>
        {changed && <Button onClick={() => change(assumptions)}>Undo</Button>}
        {!set.in_use && !changed && !earlier && (
          <Button onClick={() => use.mutate(assumptions.name)}>Use {assumptions.name}</Button>
        )}
        {!set.shipped && !changed && <ShareButton kind="assumption_set" name={assumptions.name} />}
        {!set.shipped && (
          <Button color="error" onClick={() => forget.mutateAsync(assumptions.name).then(forgotten, shownBelow)}>
            Delete
          </Button>
        )}
        <Box sx={{ flex: 1 }} />
        <Versions set={set} shown={assumptions.version} choose={toVersion} />
      </Box>
      {earlier && (
        <Typography color="textSecondary" sx={{ mb: 1 }}>
          This is how it was. Values are made with version {set.assumptions.version}; save this one to go back to it.
        </Typography>
      )}
      {error && (
        <Typography role="alert" color="error" sx={{ mb: 1 }}>
          {error.message}
        </Typography>
      )}
      <Effect draft={draft} kept={assumptions} all={all} changed={changed} />
      <Fields draft={draft} change={change} />
      <QualityScale own={draft.quality} change={(quality) => change({ ...draft, quality })} />
    </Box>
  );
}

/** A refusal is shown where the form shows errors. */
const shownBelow = () => {};

interface VersionsProps {
  set: AssumptionSet;
  shown: number;
  choose: (version: number) => void;
}

function Versions({ set, shown, choose }: VersionsProps) {
  const saved = (n: number) => `version ${n}, saved ${day((set.versions[n - 1] ?? "").slice(0, 10))}`;
  if (set.versions.length < 2) {
    return (
      <Typography variant="caption" color="textSecondary">
        {set.shipped ? "ships with Artemon and stays as it is" : saved(1)}
      </Typography>
    );
  }
  return (
    <TextField
      select
      variant="standard"
      value={shown}
      onChange={(e) => choose(Number(e.target.value))}
      slotProps={{ select: { SelectDisplayProps: { "aria-label": "Version" } } }}
    >
      {set.versions
        .map((_, i) => i + 1)
        .reverse()
        .map((n) => (
          <MenuItem key={n} value={n}>
            {saved(n)}
          </MenuItem>
        ))}
    </TextField>
  );
}
