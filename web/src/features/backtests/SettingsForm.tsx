// The settings of a backtest: which screen, when, how it buys and sells, what it pays, what it is compared with.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { useNavigate } from "react-router";
import { type Backtest, backtests, type Entry, useBacktestsChange } from "../../api/backtests";
import { useAbout, useGroups } from "../../api/queries";
import { DateField } from "../../components/DateField";
import { FormulaInput } from "../../components/FormulaInput";
import { NumberField } from "../../components/NumberField";
import { useDraft } from "../../headless/draft";
import { benchmarkOf, benchmarkWord, cleaned, EVERY, type ExitRule, ruleOf } from "./settings";

interface Props {
  title: string;
  /** Under which what is typed is kept until it is run or cancelled. */
  place: string;
  first: Backtest;
  /** Above the fields. */
  children?: ReactNode;
  close: () => void;
}

const TWO = { display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, gap: 2 };

export function SettingsForm({ title, place, first, children, close }: Props) {
  const navigate = useNavigate();
  const [draft, setDraft, letGo] = useDraft<Backtest>(`artemon.backtest.${place}`, first);
  const settings: Backtest = { ...draft, screen: first.screen };
  const set = (to: Partial<Backtest>) => setDraft({ ...settings, ...to });
  const change = useBacktestsChange<Entry>();
  const run = () =>
    change.mutate(() => backtests.ask(cleaned(settings)), {
      onSuccess: (entry) => {
        letGo();
        close();
        navigate(`/backtests/${entry.id}`);
      },
    });
  return (
    <form
      aria-label={title}
      onSubmit={(e) => {
        e.preventDefault();
        run();
      }}
    >
      <DialogTitle>{title}</DialogTitle>
      <DialogContent sx={{ display: "flex", flexDirection: "column", gap: 2, pt: "8px !important" }}>
        {children}
        {change.error && (
          <Alert severity="warning" variant="outlined" icon={false}>
            {change.error.message}
          </Alert>
        )}
        <When settings={settings} set={set} />
        <Buys settings={settings} set={set} />
        <Sells rule={ruleOf(settings.exit)} set={(exit) => set({ exit: exit ?? "rebalance" })} />
        <Pays settings={settings} set={set} />
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button
          onClick={() => {
            letGo();
            close();
          }}
        >
          Cancel
        </Button>
        <Button type="submit" variant="contained" disabled={change.isPending}>
          Run it
        </Button>
      </DialogActions>
    </form>
  );
}

interface PartProps {
  settings: Backtest;
  set: (to: Partial<Backtest>) => void;
}

function When({ settings, set }: PartProps) {
  const about = useAbout().data;
  const days = { first: about?.first_day ?? undefined, last: about?.last_day ?? undefined };
  return (
    <Box sx={{ ...TWO, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr 1fr" }, rowGap: 0 }}>
      <DateField
        label="From the end of the month of"
        value={settings.from}
        set={(from) => set({ from })}
        focused={false}
        {...days}
      />
      <DateField label="To" value={settings.to} set={(to) => set({ to })} focused={false} {...days} />
      <TextField
        select
        label="Rebalanced"
        value={settings.every ?? 3}
        onChange={(e) => set({ every: Number(e.target.value) })}
      >
        {EVERY.map(([months, words]) => (
          <MenuItem key={months} value={months}>
            {words}
          </MenuItem>
        ))}
      </TextField>
    </Box>
  );
}

function Buys({ settings, set }: PartProps) {
  const by = settings.by ?? "";
  return (
    <>
      <Box sx={TWO}>
        <NumberField
          label="Companies held"
          value={settings.top ?? null}
          set={(top) => set({ top })}
          of="count"
          otherwise="all that pass, at most 50"
          width="100%"
        />
        <TextField
          select
          label="Money is divided"
          value={settings.weights ?? "equal"}
          onChange={(e) => set({ weights: e.target.value as "equal" | "market_cap" })}
        >
          <MenuItem value="equal">in equal parts</MenuItem>
          <MenuItem value="market_cap">by market value</MenuItem>
        </TextField>
      </Box>
      <Box sx={TWO}>
        <FormulaInput label="Picked by, else in its order" value={by} change={(to) => set({ by: to })} error={null} />
        {by.trim() ? (
          <TextField
            select
            label="First come"
            value={settings.descending === false ? "low" : "high"}
            onChange={(e) => set({ descending: e.target.value === "high" })}
          >
            <MenuItem value="high">the highest</MenuItem>
            <MenuItem value="low">the lowest</MenuItem>
          </TextField>
        ) : (
          <span />
        )}
      </Box>
      {settings.weights === "market_cap" && (
        <NumberField
          label="None above"
          value={settings.max_weight ?? null}
          set={(max_weight) => set({ max_weight })}
          of="percent"
          otherwise="no limit"
          width="100%"
        />
      )}
    </>
  );
}

const RULE: ExitRule = { gain: 0.5, at_value: false };

function Sells({ rule, set }: { rule: ExitRule | null; set: (to: ExitRule | null) => void }) {
  return (
    <Box>
      <TextField
        select
        fullWidth
        label="Sold"
        value={rule ? "each" : "rebalance"}
        onChange={(e) => set(e.target.value === "each" ? RULE : null)}
      >
        <MenuItem value="rebalance">at the next rebalance, unless picked again</MenuItem>
        <MenuItem value="each">each by a rule of its own, whichever comes first</MenuItem>
      </TextField>
      {rule && (
        <Box sx={{ ...TWO, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr 1.3fr" }, mt: 2, alignItems: "center" }}>
          <NumberField
            label="At a gain of"
            value={rule.gain ?? null}
            set={(gain) => set({ ...rule, gain })}
            of="percent"
            width="100%"
          />
          <NumberField
            label="After at most"
            value={rule.months ?? null}
            set={(months) => set({ ...rule, months })}
            of="count"
            unit="months"
            width="100%"
          />
          <FormControlLabel
            control={
              <Checkbox
                checked={rule.at_value ?? false}
                onChange={(e) => set({ ...rule, at_value: e.target.checked })}
              />
            }
            label="When the price reaches the value"
          />
        </Box>
      )}
    </Box>
  );
}

function Pays({ settings, set }: PartProps) {
  const indexes = useGroups().data?.indexes ?? [];
  return (
    <>
      <Box sx={{ ...TWO, gridTemplateColumns: { xs: "1fr", sm: "1fr 2fr 1fr" } }}>
        <NumberField
          label="Cost of trading"
          value={settings.cost_bps ?? 20}
          set={(cost_bps) => set({ cost_bps: cost_bps ?? 0 })}
          unit="of 10,000"
          width="100%"
        />
        <TextField
          select
          label="Compared with"
          value={benchmarkWord(settings.benchmark)}
          onChange={(e) => set({ benchmark: benchmarkOf(e.target.value) })}
        >
          <MenuItem value="universe_equal">all companies of its universe, in equal parts</MenuItem>
          <MenuItem value="universe_cap">all companies of its universe, by market value</MenuItem>
          {indexes.map((i) => (
            <MenuItem key={i.id} value={`index:${i.id}`}>
              the index {i.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          label="Currency"
          value={settings.base}
          onChange={(e) => set({ base: e.target.value.toUpperCase() })}
          slotProps={{ htmlInput: { maxLength: 3 } }}
        />
      </Box>
      <Typography variant="body2" color="textSecondary">
        Bought and sold at the close of the session after the decision; dividends are put back into their company, those
        that leave the exchange pay their last close with what was lost on leaving.
      </Typography>
    </>
  );
}
