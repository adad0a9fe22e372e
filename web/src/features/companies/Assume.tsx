// What one assumes of this company instead of what the set says; the value answers while one types, and it is kept on demand.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { api, type Own, type Schemas } from "../../api/client";
import { useAssuming, useValueWith } from "../../api/queries";
import { NumberField } from "../../components/NumberField";
import { useAsOf } from "../../headless/asOf";
import { numberOf, percent, price } from "../../headless/format";
import { verdict } from "../../headless/verdicts";
import { tint } from "../../theme/theme";

type Value = Schemas["ValueAnswer"];

export const NOTHING: Own = {
  own_growth: null,
  required_return: null,
  exit_multiple: null,
  earnings: null,
  cash_flow: null,
  margin: null,
  soundness: null,
  reason: "",
};

/** Whether two say the same. */
export const same = (a: Own, b: Own) => {
  const text = (o: Own) =>
    JSON.stringify(
      Object.entries(o)
        .filter(([, v]) => v !== null && v !== "")
        .sort(),
    );
  return text(a) === text(b);
};

interface Props {
  value: Value;
  draft: Own;
  change: (to: Own) => void;
}

export function Assume({ value: kept, draft, change }: Props) {
  const [asOf] = useAsOf();
  const changed = !same(draft, kept.own);
  const answer = useValueWith(kept.symbol, { as_of: asOf ?? null, own: draft }, changed);
  const keep = useAssuming((own: Own) => api.assumeOf(kept.symbol, own));
  const error = keep.error ?? answer.error;
  return (
    <Box
      id="assume"
      sx={{ mt: 1.5, p: 1.5, border: `1px solid ${tint("hairline")}`, borderRadius: 1, bgcolor: "background.paper" }}
    >
      <Typography variant="h3" sx={{ mb: 1.25 }}>
        What do you assume?
      </Typography>
      <Fields value={kept} draft={draft} change={change} />
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1.5, mt: 1.25, flexWrap: "wrap" }} aria-live="polite">
        {changed && answer.data && !answer.error && <Then now={kept} then={answer.data} />}
        {!changed && (
          <Typography variant="body2" color="textSecondary">
            {same(kept.own, NOTHING)
              ? `All as the set "${kept.assumptions}" and the filings say. Type over any of them to see the effect.`
              : "The value above is made with your own assumptions."}
          </Typography>
        )}
        {error && (
          <Typography variant="body2" role="alert" color="error">
            {error.message}
          </Typography>
        )}
        <Box sx={{ flex: 1 }} />
        {changed && <Button onClick={() => change(kept.own)}>Undo</Button>}
        {!same(kept.own, NOTHING) && (
          <Button onClick={() => keep.mutate(NOTHING, { onSuccess: () => change(NOTHING) })}>Back to the set</Button>
        )}
        {changed && (
          <Button variant="contained" disabled={keep.isPending} onClick={() => keep.mutate(draft)}>
            Keep for this company
          </Button>
        )}
      </Box>
    </Box>
  );
}

/** What can be typed over, each with what holds otherwise. */
function Fields({ value: kept, draft, change }: Props) {
  const started = (label: string) => numberOf(kept.starting.find((s) => s.label.startsWith(label))?.value);
  const shown = (x: number | null, words: (x: number) => string) => (x === null ? "" : words(x));
  const set = (part: Partial<Own>) => change({ ...draft, ...part });
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.25 }}>
      <NumberField
        label="Growth, years 1–5"
        of="percent"
        value={draft.own_growth}
        set={(own_growth) => set({ own_growth })}
      />
      <NumberField
        label="Required return"
        of="percent"
        value={draft.required_return}
        otherwise={shown(started("Required"), (x) => String(Math.round(x * 1000) / 10))}
        set={(required_return) => set({ required_return })}
      />
      <NumberField
        label="Exit multiple"
        value={draft.exit_multiple}
        otherwise={shown(started("Exit"), (x) => x.toFixed(1))}
        set={(exit_multiple) => set({ exit_multiple })}
      />
      <NumberField
        label="Earnings per share"
        unit={kept.currency}
        value={draft.earnings}
        otherwise={shown(started("Earnings"), price)}
        set={(earnings) => set({ earnings })}
      />
      <NumberField
        label="FCF per share"
        unit={kept.currency}
        value={draft.cash_flow}
        otherwise={shown(started("Free"), price)}
        set={(cash_flow) => set({ cash_flow })}
      />
      <NumberField
        label="Required margin"
        of="percent"
        value={draft.margin}
        otherwise={String(Math.round(kept.margin * 1000) / 10)}
        set={(margin) => set({ margin })}
      />
      <TextField
        select
        label="Soundness, mine"
        value={draft.soundness ?? ""}
        onChange={(e) => set({ soundness: e.target.value === "" ? null : Number(e.target.value) })}
        sx={{ width: 132 }}
        slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
      >
        <MenuItem value="">as computed</MenuItem>
        {["I", "II", "III", "none"].map((words, i) => (
          <MenuItem key={words} value={i + 1}>
            {words}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        label="Why"
        value={draft.reason ?? ""}
        onChange={(e) => set({ reason: e.target.value })}
        sx={{ flex: 1, minWidth: 200 }}
        slotProps={{ inputLabel: { shrink: true } }}
      />
    </Box>
  );
}

/** What the draft makes of value and verdict. */
function Then({ now, then }: { now: Value; then: Value }) {
  const [before, after] = [numberOf(now.intrinsic_value), numberOf(then.intrinsic_value)];
  const limit = numberOf(then.buy_below);
  if (after === null || limit === null) {
    return <Typography variant="body2">No value then: {then.intrinsic_value.reason}.</Typography>;
  }
  const [words, colour] = verdict(then.verdict);
  return (
    <Typography variant="body2" data-testid="value-then">
      Worth <b className="serif">{price(after)}</b> then
      {before !== null && `, ${after >= before ? "+" : ""}${percent(after / before - 1)}`}; you would pay at most{" "}
      {price(limit)}: <b style={{ color: colour }}>{words}</b>
    </Typography>
  );
}
