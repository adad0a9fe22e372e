// Why something is decided: the thesis, what would prove it wrong, how sure one is, when to look again, from which screen it came.
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import type { Choice, Reasons } from "../../../api/decisions";
import { useDocuments } from "../../../api/queries";
import { percent } from "../../../headless/format";

interface Props {
  reasons: Reasons;
  set: (to: Partial<Reasons>) => void;
  choice: Choice;
}

const CONFIDENCES = [0.5, 0.55, 0.6, 0.65, 0.7, 0.75, 0.8, 0.85, 0.9, 0.95];

/** Of what one is sure. */
const SURE: Record<Choice, string> = {
  buy: "Sure that it beats the index in three years",
  keep: "Sure that it beats the index in three years",
  not_now: "Sure that it does not beat the index",
  sell: "Sure that it does not beat the index",
};

export function ReasonsFields({ reasons, set, choice }: Props) {
  const screens = useDocuments("screen").data ?? [];
  const isFor = choice === "buy" || choice === "keep";
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, gap: 2, alignItems: "start" }}>
      <Long label="Thesis: why" value={reasons.thesis} set={(thesis) => set({ thesis })} />
      <Long label="What would prove me wrong" value={reasons.wrong} set={(wrong) => set({ wrong })} />
      <TextField
        label="The same as formulas, one a line"
        helperText="Each that becomes true is an alert: debt_to_equity > 2"
        multiline
        minRows={1}
        value={reasons.wrong_when.join("\n")}
        onChange={(e) => set({ wrong_when: e.target.value === "" ? [] : e.target.value.split("\n") })}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { className: "mono" } }}
      />
      <TextField
        select
        label={SURE[choice]}
        value={reasons.confidence ?? ""}
        onChange={(e) => set({ confidence: e.target.value === "" ? null : Number(e.target.value) })}
        slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
      >
        <MenuItem value="">not said</MenuItem>
        {CONFIDENCES.map((c) => (
          <MenuItem key={c} value={c}>
            {percent(c)}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        type="date"
        label="Look at it again on"
        value={reasons.review_on ?? ""}
        onChange={(e) => set({ review_on: e.target.value || null })}
        slotProps={{ inputLabel: { shrink: true } }}
      />
      <TextField
        select
        label="It came from"
        value={screens.some((s) => s.id === reasons.screen) ? reasons.screen : ""}
        onChange={(e) => set({ screen: e.target.value || null })}
        slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
      >
        <MenuItem value="">no screen</MenuItem>
        {screens.map((s) => (
          <MenuItem key={s.id} value={s.id}>
            {s.name}
          </MenuItem>
        ))}
      </TextField>
      {isFor && (
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={reasons.tell_at_value}
              onChange={(e) => set({ tell_at_value: e.target.checked })}
            />
          }
          label="Tell me when the price reaches the value"
        />
      )}
    </Box>
  );
}

function Long({ label, value, set }: { label: string; value: string; set: (to: string) => void }) {
  return (
    <TextField
      label={label}
      multiline
      minRows={3}
      value={value}
      onChange={(e) => set(e.target.value)}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
}
