// Adds a criterion: a measure by word or id, or a formula of one's own; its first bound is the median of today.
import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { memo, useMemo, useRef, useState } from "react";
import { api, type Criterion, type Measure, type OwnMeasure } from "../../api/client";
import { useOwnMeasures } from "../../api/queries";
import { useAsOf } from "../../headless/asOf";
import { familyName } from "../../headless/families";
import { useKeys } from "../../headless/keys";
import { add, type Edit } from "../../headless/screenState";
import { tint } from "../../theme/theme";

interface Option {
  formula: string;
  label: string;
  meaning: string;
  family: string;
}

/** Every measure, and for the multiples and margins also their place in the own ten years. */
function options(measures: Measure[], mine: OwnMeasure[]): Option[] {
  const own = measures
    .filter(
      (m) =>
        m.params.length === 0 &&
        (m.family === "multiples" || m.unit === "percent") &&
        m.family !== "value" &&
        m.family !== "insiders",
    )
    .map((m) => ({
      formula: `own_rank(${m.id}, 10y)`,
      label: `${m.label} in its own 10 years`,
      meaning: "0 is the lowest ever, 100 the highest.",
      family: "Against own history",
    }));
  const plain = measures.map((m) => ({
    formula: m.example,
    label: m.label,
    meaning: m.meaning,
    family: familyName(m.family),
  }));
  const yours = mine.map((m) => ({
    formula: m.id,
    label: m.label,
    meaning: m.note || m.formula,
    family: "Your own",
  }));
  return [...yours, ...plain, ...own];
}

export const AddCriterion = memo(function AddCriterion({
  measures,
  block,
  edit,
}: {
  measures: Measure[];
  block: number;
  edit: Edit;
}) {
  const [text, setText] = useState("");
  const [asOf] = useAsOf();
  const own = useOwnMeasures().data;
  const choice = useMemo(() => options(measures, own ?? []), [measures, own]);
  const first = block === 0;
  const input = useRef<HTMLInputElement>(null);
  useKeys(first ? { c: () => input.current?.focus() } : {});
  const take = async (typed: string) => {
    setText("");
    // What cannot be read is a criterion all the same: its mistake is shown beside it.
    const read: Criterion = await api.readCriterion(typed, asOf).catch(() => ({ formula: typed }));
    edit((s) => add(s, block, read));
  };
  return (
    <Autocomplete<Option, false, false, true>
      freeSolo
      size="small"
      sx={{ mt: 1 }}
      options={choice}
      groupBy={(o) => o.family}
      getOptionLabel={(o) => (typeof o === "string" ? o : `${o.label} ${o.formula}`)}
      getOptionKey={(o) => (typeof o === "string" ? o : o.formula)}
      inputValue={text}
      value={null}
      onInputChange={(_, value, why) => why === "input" && setText(value)}
      onChange={(_, o) => o && take(typeof o === "string" ? o : o.formula)}
      renderOption={({ key, ...props }, o) => (
        <Box component="li" key={key} {...props} sx={{ display: "block !important", py: "4px !important" }}>
          <Typography variant="body2">
            <b>{o.label}</b> <span style={{ color: tint("faint") }}>{o.formula}</span>
          </Typography>
          <Typography variant="caption" sx={{ color: tint("second") }}>
            {o.meaning}
          </Typography>
        </Box>
      )}
      slotProps={{ paper: { sx: { width: 420 } }, popper: { placement: "bottom-start" } }}
      renderInput={(params) => (
        <TextField
          {...params}
          inputRef={input}
          placeholder={first ? "Add a criterion: a measure or a formula   c" : "Add a criterion to this block"}
          aria-label="Add a criterion"
        />
      )}
    />
  );
});
