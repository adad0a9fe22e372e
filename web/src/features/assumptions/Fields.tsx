// Every assumption of a set but those of quality, in the order of the form.
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Assumptions } from "../../api/client";
import { NumberField } from "../../components/NumberField";
import { EARNINGS, GROUPS, numberOfSet, RETURNS, returnOf, withNumber, withReturn } from "./fields";

interface Props {
  draft: Assumptions;
  change: (to: Assumptions) => void;
}

export function Fields({ draft, change }: Props) {
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
              <span key={f.label} data-hint={f.means}>
                <NumberField
                  label={f.label}
                  of={f.percent ? "percent" : "ratio"}
                  value={numberOfSet(draft, f)}
                  set={(to) => to !== null && change(withNumber(draft, f, to))}
                  width={190}
                />
              </span>
            ))}
          </Box>
        </Box>
      ))}
    </>
  );
}

function Starts({ draft, change }: Props) {
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
          of="percent"
          value={rate}
          set={(to) => to !== null && change(withReturn(draft, kind, to))}
        />
        {kind !== "fixed" && (
          <NumberField
            label="but at least"
            of="percent"
            value={draft.least_required_return}
            set={(to) => to !== null && change({ ...draft, least_required_return: to })}
          />
        )}
        <span data-hint="A scenario of your own, which then counts alone. Empty for none.">
          <NumberField
            label="Growth of your own"
            of="percent"
            otherwise="none"
            value={draft.own_growth ?? null}
            set={(to) => change({ ...draft, own_growth: to })}
            width={150}
          />
        </span>
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
