// Assumption sets: the shipped one and one's own, side by side, with what each makes of the market.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Link from "@mui/material/Link";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { type Assumptions, api, type Schemas } from "../../api/client";
import { useAssuming, useAssumptionSets, useRank } from "../../api/queries";
import { NumberField } from "../../components/NumberField";
import { Failed, Loading } from "../../components/States";
import { useAsOf } from "../../headless/asOf";
import { useAddressState } from "../../headless/addressState";
import { useDraft } from "../../headless/draft";
import { day, percent, plain } from "../../headless/format";
import { SERIF, tint } from "../../theme/theme";
import { EARNINGS, GROUPS, numberOfSet, RETURNS, returnOf, withNumber, withReturn } from "./fields";

type Kept = Schemas["AssumptionSet"];

export function AssumptionsPlace() {
  const sets = useAssumptionSets();
  const [chosen, choose] = useAddressState("set");
  useEffect(() => {
    document.title = "Assumptions – Artemon";
  }, []);
  if (sets.error) return <Failed error={sets.error} retry={() => sets.refetch()} />;
  if (!sets.data) return <Loading rows={12} />;
  const shown = sets.data.find((s) => s.assumptions.name === chosen) ?? sets.data.find((s) => s.in_use) ?? sets.data[0];
  return (
    <Box sx={{ height: "100%", display: "grid", gridTemplateColumns: "220px minmax(0, 1fr)" }}>
      <Box
        component="nav"
        aria-label="Assumption sets"
        sx={{ borderRight: `1px solid ${tint("hairline")}`, p: 2, overflowY: "auto" }}
      >
        <Typography variant="h1" sx={{ mb: 1 }}>
          Assumptions
        </Typography>
        {sets.data.map((s) => (
          <Link
            key={s.assumptions.name}
            component="button"
            underline="none"
            aria-current={s === shown ? "page" : undefined}
            onClick={() => choose(s.assumptions.name)}
            sx={{
              display: "block",
              width: "100%",
              textAlign: "left",
              p: 0.75,
              borderRadius: 1,
              color: tint("ink"),
              bgcolor: s === shown ? tint("brassWash") : undefined,
              "&:hover": { bgcolor: tint("tray") },
            }}
          >
            <b>{s.assumptions.name}</b>
            <br />
            <span style={{ fontSize: 12, color: tint("second") }}>
              {s.shipped ? "ships with Artemon" : `version ${s.assumptions.version}`}
              {s.in_use && " · in use"}
            </span>
          </Link>
        ))}
        <Typography variant="body2" sx={{ color: tint("second"), mt: 2 }}>
          Every value names the set it was made with. Change one and save it under a name of your own; each save is kept
          as a version.
        </Typography>
      </Box>
      {shown && (
        <SetForm
          key={`${shown.assumptions.name}|${shown.assumptions.version}`}
          kept={shown}
          all={sets.data}
          choose={choose}
        />
      )}
    </Box>
  );
}

interface FormProps {
  kept: Kept;
  all: Kept[];
  choose: (name: string) => void;
}

function SetForm({ kept, all, choose }: FormProps) {
  const [draft, change] = useDraft(
    `assumptions:${kept.assumptions.name}:${kept.assumptions.version}`,
    kept.assumptions,
  );
  const [name, setName] = useState(kept.shipped ? "" : kept.assumptions.name);
  const changed = JSON.stringify(draft) !== JSON.stringify(kept.assumptions);
  const save = useAssuming(api.saveAssumptions);
  const use = useAssuming(api.useAssumptions);
  const forget = useAssuming(api.deleteAssumptions);
  const error = save.error ?? use.error ?? forget.error;
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
          disabled={name.trim() === "" || save.isPending || (!changed && name === kept.assumptions.name)}
          onClick={() => save.mutate({ ...draft, name }, { onSuccess: () => choose(name.trim()) })}
        >
          Save and use
        </Button>
        {changed && <Button onClick={() => change(kept.assumptions)}>Undo</Button>}
        {!kept.in_use && !changed && (
          <Button onClick={() => use.mutate(kept.assumptions.name)}>Use {kept.assumptions.name}</Button>
        )}
        {!kept.shipped && (
          <Button color="error" onClick={() => forget.mutate(kept.assumptions.name)}>
            Delete
          </Button>
        )}
        <Box sx={{ flex: 1 }} />
        {kept.versions.length > 0 && (
          <Typography variant="caption" sx={{ color: tint("second") }}>
            last saved {day((kept.versions.at(-1) ?? "").slice(0, 10))}
          </Typography>
        )}
      </Box>
      {error && (
        <Typography role="alert" sx={{ color: tint("clay"), mb: 1 }}>
          {error.message}
        </Typography>
      )}
      <Effect draft={draft} kept={kept} all={all} changed={changed} />
      <Fields draft={draft} change={change} />
    </Box>
  );
}

/** Every assumption of the set. */
function Fields({ draft, change }: { draft: Assumptions; change: (to: Assumptions) => void }) {
  return (
    <>
      <Starts draft={draft} change={change} />
      {GROUPS.map(([title, fields]) => (
        <Box key={title}>
          <Typography variant="h2" sx={{ mt: 2.5 }}>
            {title}
          </Typography>
          <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", mt: 1.5 }}>
            {fields.map((f) => (
              <Tooltip key={f.label} title={f.means} placement="top">
                <span>
                  <NumberField
                    label={f.label}
                    percent={f.percent ?? false}
                    value={numberOfSet(draft, f)}
                    set={(to) => to !== null && change(withNumber(draft, f, to))}
                    width={190}
                  />
                </span>
              </Tooltip>
            ))}
          </Box>
        </Box>
      ))}
    </>
  );
}

function Starts({ draft, change }: { draft: Assumptions; change: (to: Assumptions) => void }) {
  const [kind, rate] = returnOf(draft);
  return (
    <>
      <Typography variant="h2" sx={{ mt: 2 }}>
        Where it starts
      </Typography>
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", mt: 1.5, alignItems: "center" }}>
        <TextField
          select
          label="Required return is"
          value={kind}
          onChange={(e) => change(withReturn(draft, e.target.value, e.target.value === "fixed" ? 0.09 : 0.04))}
          sx={{ width: 250 }}
        >
          {RETURNS.map(([value, words]) => (
            <MenuItem key={value} value={value}>
              {words}
            </MenuItem>
          ))}
        </TextField>
        <NumberField
          label="Rate"
          percent
          value={rate}
          set={(to) => to !== null && change(withReturn(draft, kind, to))}
        />
        <TextField
          select
          label="Earnings are those of"
          value={draft.earnings}
          onChange={(e) => change({ ...draft, earnings: e.target.value })}
          sx={{ width: 250 }}
        >
          {EARNINGS.map(([value, words]) => (
            <MenuItem key={value} value={value}>
              {words}
            </MenuItem>
          ))}
        </TextField>
        <FormControlLabel
          control={
            <Checkbox
              checked={draft.cash_after_stock_pay}
              onChange={(e) => change({ ...draft, cash_after_stock_pay: e.target.checked })}
            />
          }
          label="pay in shares counts as cash spent"
        />
        <FormControlLabel
          control={
            <Checkbox
              checked={draft.payout_with_buybacks}
              onChange={(e) => change({ ...draft, payout_with_buybacks: e.target.checked })}
            />
          }
          label="buying back shares counts as paid out"
        />
      </Box>
    </>
  );
}

interface EffectProps {
  draft: Assumptions;
  kept: Kept;
  all: Kept[];
  changed: boolean;
}

/** The same market under the draft and under another set, side by side. */
function Effect({ draft, kept, all, changed }: EffectProps) {
  const others = all.map((s) => s.assumptions.name).filter((n) => changed || n !== kept.assumptions.name);
  const [picked, pick] = useState<string | null>(null);
  const beside = picked ?? (changed ? kept.assumptions.name : others[0]);
  const other = all.find((s) => s.assumptions.name === beside)?.assumptions;
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: "1fr 1fr",
        gap: 3,
        p: 1.5,
        border: `1px solid ${tint("hairline")}`,
        borderRadius: 1,
        bgcolor: "background.paper",
      }}
    >
      <Market set={draft} title={changed ? "As typed here" : kept.assumptions.name} />
      {other ? (
        <Market
          set={other}
          title={
            <TextField
              select
              variant="standard"
              value={beside}
              onChange={(e) => pick(e.target.value)}
              slotProps={{ htmlInput: { "aria-label": "Beside which set" } }}
            >
              {others.map((n) => (
                <MenuItem key={n} value={n}>
                  {n}
                </MenuItem>
              ))}
            </TextField>
          }
        />
      ) : (
        <Typography variant="body2" sx={{ color: tint("second"), alignSelf: "center" }}>
          Change something to see what it does to the market, beside this set.
        </Typography>
      )}
    </Box>
  );
}

function Market({ set, title }: { set: Assumptions; title: React.ReactNode }) {
  const [asOf] = useAsOf();
  const answer = useRank({
    assumptions: set,
    margin: set.margin,
    least_quality: set.least_quality,
    as_of: asOf ?? null,
    rows: 5,
  });
  const a = answer.data;
  return (
    <Box aria-live="polite">
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1, minHeight: 28 }}>
        <b>{title}</b>
        <span style={{ fontSize: 12, color: tint("second") }}>
          asks {percent(set.margin)}, return {percent(returnOf(set)[1])}
        </span>
      </Box>
      {answer.error && (
        <Typography variant="body2" role="alert" sx={{ color: tint("clay") }}>
          {answer.error.message}
        </Typography>
      )}
      {a && !answer.error && (
        <>
          <Typography variant="body2">
            <b style={{ fontFamily: SERIF, fontSize: 22, color: tint("teal") }}>{plain(a.in_range, 0)}</b> in range,{" "}
            {plain(a.close, 0)} close, {plain(a.wait, 0)} too dear, {plain(a.pass, 0)} not good enough,{" "}
            {plain(a.cannot_value, 0)} without a value
          </Typography>
          <Typography variant="body2" sx={{ color: tint("second") }}>
            First: {a.rows.map((r) => r.name).join(" · ")}
          </Typography>
        </>
      )}
    </Box>
  );
}
