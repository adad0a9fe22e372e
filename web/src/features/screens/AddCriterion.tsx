// Adds a criterion: a measure by word or id, or a formula of one's own; its first bound is the median of today.
import Box from "@mui/material/Box";
import { memo, useMemo, useRef, useState } from "react";
import { api, type Criterion, type Measure } from "../../api/client";
import { FindField } from "../../components/find/FindField";
import { useActions } from "../../headless/actions";
import { useAsOf } from "../../headless/asOf";
import { calledSo } from "../../headless/finding";
import { add, type Edit } from "../../headless/screenState";
import { found, useChoices } from "./choices";

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
  const all = useChoices(measures);
  const typed = text.trim() !== "";
  const offered = useMemo(() => (typed ? found(all, text) : all), [all, text, typed]);
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
        entries={offered.map((one) => ({
          id: typed ? one.id : `${one.group} ${one.id}`,
          label: one.label,
          hint: one.id,
          meaning: [one.meaning, typed && calledSo(one, text)].filter(Boolean).join(" Also called: "),
          // What was found comes by nearness, not by family.
          group: typed ? "" : one.group,
          run: () => take(one.id),
        }))}
        none=""
      />
    </Box>
  );
});
