// Adds a criterion: a measure by word or id, or a formula of one's own; its first bound is the median of today.
import Box from "@mui/material/Box";
import { memo, useMemo, useRef, useState } from "react";
import { api, type Criterion, type Measure, type OwnMeasure } from "../../api/client";
import { useOwnMeasures } from "../../api/queries";
import { FindField } from "../../components/find/FindField";
import { useActions } from "../../headless/actions";
import { useAsOf } from "../../headless/asOf";
import { familyName, hasWords } from "../../headless/families";
import { add, type Edit } from "../../headless/screenState";

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
  const all = useMemo(() => options(measures, own ?? []), [measures, own]);
  const first = block === 0;
  const input = useRef<HTMLInputElement>(null);
  useActions(first ? [{ keys: "c", label: "Add a criterion", run: () => input.current?.focus() }] : []);
  const take = async (typed: string) => {
    // What cannot be read is a criterion all the same: its mistake is shown beside it.
    const read: Criterion = await api.readCriterion(typed, asOf).catch(() => ({ formula: typed }));
    edit((s) => add(s, block, read));
  };
  return (
    <Box sx={{ mt: 1 }}>
      <FindField
        label="Add a criterion"
        placeholder={first ? "Add a criterion: a measure or a formula   c" : "Add a criterion to this block"}
        input={input}
        text={text}
        setText={setText}
        take={take}
        entries={all
          .filter((o) => hasWords(`${o.label} ${o.formula}`, text))
          .map((o) => ({
            id: o.formula,
            label: o.label,
            hint: o.formula,
            meaning: o.meaning,
            group: o.family,
            run: () => take(o.formula),
          }))}
        none=""
      />
    </Box>
  );
});
