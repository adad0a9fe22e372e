// What a criterion is made of, opened for a change: its formula, bounds, and whether it counts.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useEffect, useState } from "react";
import type { Criterion, Schemas, Unit } from "../../api/client";
import { FormulaInput } from "../../components/FormulaInput";
import { NumberField } from "../../components/NumberField";
import { unitHint } from "../../headless/format";
import { tint } from "../../theme/theme";

interface Props {
  criterion: Criterion;
  result: Schemas["CriterionAnswer"] | undefined;
  unit: Unit | null | undefined;
  off: boolean;
  change: (to: Partial<Criterion>) => void;
  remove: () => void;
}

export function CriterionDetails({ criterion: c, unit, off, change, remove, result }: Props) {
  const typed = unit === "text" || unit === "flag";
  return (
    <Box sx={{ mt: 1, display: "grid", gap: 1 }}>
      <FormulaField formula={c.formula} error={result?.error} change={(formula) => change({ formula })} />
      {!typed && (
        <Box sx={{ display: "flex", gap: 1 }}>
          {(["min", "max"] as const).map((bound) => (
            <NumberField
              key={bound}
              label={bound === "min" ? "At least" : "At most"}
              of={unit}
              unit={unitHint(unit)}
              width="100%"
              whenDone
              value={c[bound]}
              set={(to) => change({ [bound]: to })}
            />
          ))}
        </Box>
      )}
      {unit === "text" && (
        <TextField
          label="One of, separated by commas"
          defaultValue={(c.one_of ?? []).join(", ")}
          onBlur={(e) =>
            change({
              one_of: e.target.value
                .split(",")
                .map((t) => t.trim())
                .filter(Boolean),
            })
          }
        />
      )}
      <Box sx={{ display: "flex", gap: 0.5, ml: -0.5 }}>
        <Button onClick={() => change({ enabled: off })}>{off ? "Switch on" : "Switch off"}</Button>
        <Button onClick={() => change({ negate: !c.negate })}>{c.negate ? "Remove NOT" : "Negate"}</Button>
        <Button onClick={remove} sx={{ color: tint("clay") }}>
          Remove
        </Button>
      </Box>
    </Box>
  );
}

function FormulaField({
  formula,
  error,
  change,
}: {
  formula: string;
  error: Schemas["FormulaError"] | null | undefined;
  change: (f: string) => void;
}) {
  const [text, setText] = useState(formula);
  useEffect(() => setText(formula), [formula]);
  const take = () => text.trim() && text !== formula && change(text.trim());
  return <FormulaInput value={text} change={setText} take={take} error={text === formula ? error : null} />;
}
