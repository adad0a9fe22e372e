// Writes a formula: checked as it is typed, answered for a company and for all, saved as a measure of one's own.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQueryStates } from "nuqs";
import { useState } from "react";
import type { OwnMeasure } from "../../api/client";
import { useCheck, useOwnMeasures } from "../../api/queries";
import { FormulaInput } from "../../components/FormulaInput";
import { text as inAddress, STEP } from "../../headless/address";
import { ForCompany } from "./ForCompany";
import { Deleted, SaveMeasure } from "./SaveMeasure";
import { Distribution } from "../../components/Distribution";

const EXAMPLES = [
  "value_to_price > 1.05 and fy_count(net_buyback > 0, 5) >= 3",
  "own_rank(pe, 10y) < 20 and roe > 12%",
  "fcf_yield - aaa_yield",
  "pe / median_in(pe, industry)",
  "q_yoy(operating_income, 0)",
];

const EDITED = { f: inAddress, edit: inAddress };

export function FormulaEditor() {
  const [{ f: written, edit }, set] = useQueryStates(EDITED);
  const write = (f: string) => void set({ f });
  const own = useOwnMeasures().data ?? [];
  const edited = own.find((m) => m.id === edit);
  const text = written ?? edited?.formula ?? "";
  const check = useCheck(text);
  const current = text.trim() !== "" && !check.isPlaceholderData ? check.data : undefined;
  const sound = current && !current.error ? text : null;
  const [gone, setGone] = useState<OwnMeasure | null>(null);
  const show = (id: string | null) => void set({ f: null, edit: id }, STEP);
  return (
    <Box sx={{ maxWidth: 760 }}>
      <Typography variant="h1">{edited ? edited.label : "Write a formula"}</Typography>
      <Typography variant="sentence" sx={{ mb: 1.5 }}>
        Ordinary arithmetic over measures and statement items. Its result is a measure like any other: to screen by, to
        sort by, to show in a column.
      </Typography>
      <FormulaInput value={text} change={write} error={text.trim() ? current?.error : null} large />
      {text.trim() === "" && (
        <Box sx={{ mt: 1.5 }}>
          <Typography variant="body2" color="textSecondary">
            Begin to type a name, or start from one of these:
          </Typography>
          {EXAMPLES.map((e) => (
            <Button key={e} sx={{ display: "block", ml: -0.6, textAlign: "left" }} onClick={() => write(e)}>
              {e}
            </Button>
          ))}
        </Box>
      )}
      {current?.unit && (
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
          Its answer is a {current.unit.replace("_", " ")}.{" "}
          {current.warnings.map((w) => (
            <span key={w} className="clay">
              {w}{" "}
            </span>
          ))}
        </Typography>
      )}
      {sound && <Distribution formula={sound} />}
      {sound && <ForCompany formula={sound} unit={current?.unit} />}
      {sound && (
        <SaveMeasure
          key={edited?.id ?? ""}
          formula={sound}
          edited={edited}
          saved={show}
          deleted={(measure) => {
            setGone(measure);
            show(null);
          }}
        />
      )}
      <Deleted gone={gone} close={() => setGone(null)} saved={show} />
    </Box>
  );
}
