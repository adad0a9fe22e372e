// An alert: what it waits for, of whom; and when it would have said something, before it is saved.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useDeferredValue, useState } from "react";
import { api, type Schemas } from "../../api/client";
import { useListChange } from "../../api/following";
import { useCheck, useDocuments } from "../../api/queries";
import { FormulaInput } from "../../components/FormulaInput";
import { AlertPast } from "./AlertPast";
import { OfWhom } from "./OfWhom";

type Body = Schemas["AlertBody"];
type What = Schemas["AlertWhat"];

const KINDS: [What["kind"], string][] = [
  ["under_price", "the price comes under what I would pay"],
  ["formula", "a formula becomes true"],
  ["screen", "a company enters or leaves a screen"],
  ["cluster", "several insiders buy close to each other"],
  ["flags", "a red flag is raised"],
  ["verdict", "the verdict changes"],
  ["dates", "results or a dividend are near"],
];

/** What an alert of a kind waits for at first. */
function begun(kind: What["kind"], screens: { id: string }[]): What {
  switch (kind) {
    case "formula":
      return { kind, formula: "price < sma(200)" };
    case "screen":
      return { kind, screen: screens[0]?.id ?? "", entered: true, left: false };
    case "dates":
      return { kind, days: 7 };
    default:
      return { kind };
  }
}

interface Props {
  alert: Schemas["AlertEntry"] | null;
  all: Schemas["AlertEntry"][];
  /** Whom a new one looks at, where that is known. */
  of?: Schemas["AlertOf"];
  close: () => void;
}

const FIRST: Body = {
  what: { kind: "under_price" },
  of: { kind: "followed" },
  repeat: "each_time",
  mail: false,
  paused: false,
};

export function AlertForm({ alert, all, of, close }: Props) {
  const [body, setBody] = useState<Body>(alert?.body ?? { ...FIRST, of: of ?? FIRST.of });
  const [name, setName] = useState(alert?.name ?? "");
  const [problem, setProblem] = useState<string | null>(null);
  const screens = useDocuments("screen").data ?? [];
  const { mutateAsync: run } = useListChange((work: () => Promise<unknown>) => work());
  const set = (to: Partial<Body>) => setBody({ ...body, ...to });
  const proposed = nameOf(body, screens, all, alert?.name);
  const save = () => {
    const file = {
      kind: "alert" as const,
      name: name.trim() || proposed,
      folder: "",
      note: "",
      body,
    };
    run(() => (alert ? api.saveDocument(alert.id, alert.version, file) : api.addDocument(file))).then(
      close,
      (wrong: Error) => setProblem(wrong.message),
    );
  };
  const asked = useDeferredValue(body);
  return (
    <Dialog open onClose={close} fullWidth maxWidth="md">
      <DialogTitle>{alert ? "Change the alert" : "A new alert"}</DialogTitle>
      <DialogContent sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", md: "1fr 1fr" }, gap: 3 }}>
        <Box sx={{ display: "flex", flexDirection: "column", gap: 2, pt: 1 }}>
          <TextField
            select
            label="Tell me when"
            value={body.what.kind}
            onChange={(e) => set({ what: begun(e.target.value as What["kind"], screens) })}
          >
            {KINDS.map(([kind, label]) => (
              <MenuItem key={kind} value={kind}>
                {label}
              </MenuItem>
            ))}
          </TextField>
          <Terms what={body.what} screens={screens} set={(what) => set({ what })} />
          {body.what.kind !== "screen" && <OfWhom of={body.of} screens={screens} set={(of) => set({ of })} />}
          <TextField
            select
            label="How often"
            value={body.repeat}
            onChange={(e) => set({ repeat: e.target.value as Body["repeat"] })}
          >
            <MenuItem value="each_time">each time it becomes true</MenuItem>
            <MenuItem value="once">once, then no more</MenuItem>
          </TextField>
          <FormControlLabel
            control={<Checkbox checked={body.mail} onChange={(_, mail) => set({ mail })} />}
            label="By mail too"
          />
          <TextField
            label="Name"
            value={name}
            placeholder={proposed}
            onChange={(e) => setName(e.target.value)}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          {problem && (
            <Alert severity="warning" variant="outlined" icon={false}>
              {problem}
            </Alert>
          )}
        </Box>
        <AlertPast body={meant(asked) ? asked : null} />
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        <Button variant="contained" disabled={!meant(body)} onClick={save}>
          {alert ? "Save" : "Set the alert"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Whether enough is said to ask what it would have done. */
function meant({ what, of }: Body): boolean {
  if (what.kind === "formula" && what.formula.trim() === "") return false;
  if (what.kind === "screen") return what.screen !== "" && (what.entered || what.left);
  return of === undefined || of.kind !== "companies" || of.companies.length > 0;
}

function nameOf(
  { what }: Body,
  screens: { id: string; name: string }[],
  all: { name: string }[],
  own?: string,
): string {
  const screen = what.kind === "screen" ? screens.find((s) => s.id === what.screen)?.name : undefined;
  const words =
    what.kind === "formula" ? what.formula : (screen ?? KINDS.find(([kind]) => kind === what.kind)?.[1]) || "";
  const name = words.charAt(0).toUpperCase() + words.slice(1, 70);
  const taken = new Set(all.map((a) => a.name).filter((n) => n !== own));
  let next = name;
  for (let i = 2; taken.has(next); i += 1) next = `${name} ${i}`;
  return next;
}

interface TermsProps {
  what: What;
  screens: { id: string; name: string }[];
  set: (what: What) => void;
}

function Terms({ what, screens, set }: TermsProps) {
  switch (what.kind) {
    case "formula":
      return <Formula text={what.formula} set={(formula) => set({ kind: "formula", formula })} />;
    case "screen":
      return (
        <>
          <TextField
            select
            label="Screen"
            value={what.screen}
            onChange={(e) => set({ ...what, screen: e.target.value })}
          >
            {screens.map((s) => (
              <MenuItem key={s.id} value={s.id}>
                {s.name}
              </MenuItem>
            ))}
          </TextField>
          {screens.length === 0 && "Save a screen first: an alert follows one that is kept."}
          <Box>
            <FormControlLabel
              control={<Checkbox checked={what.entered} onChange={(_, entered) => set({ ...what, entered })} />}
              label="enters it"
            />
            <FormControlLabel
              control={<Checkbox checked={what.left} onChange={(_, left) => set({ ...what, left })} />}
              label="leaves it"
            />
          </Box>
        </>
      );
    case "dates":
      return (
        <TextField
          select
          label="Days ahead"
          value={what.days}
          onChange={(e) => set({ ...what, days: Number(e.target.value) })}
        >
          {[1, 3, 7, 14].map((n) => (
            <MenuItem key={n} value={n}>
              {n === 1 ? "one day" : `${n} days`}
            </MenuItem>
          ))}
        </TextField>
      );
    default:
      return null;
  }
}

function Formula({ text, set }: { text: string; set: (text: string) => void }) {
  const check = useCheck(text);
  return <FormulaInput value={text} change={set} error={check.data?.error} label="Formula that becomes true" />;
}
