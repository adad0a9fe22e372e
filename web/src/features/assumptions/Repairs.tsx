// What is one's own and cannot be used as it is kept: named, with why, and a way to mend it. Nothing is dropped.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, type Schemas } from "../../api/client";
import { useAssuming, useRepairs } from "../../api/queries";
import { tint } from "../../theme/theme";

type Broken = Schemas["Broken"];
type Unmatched = Schemas["Unmatched"];

const KINDS: Record<string, string> = {
  assumption_set: "assumption set",
  measure: "measure",
  override: "assumptions of a company",
};

export function Repairs() {
  const { broken = [], unmatched = [] } = useRepairs().data ?? {};
  if (broken.length + unmatched.length === 0) return null;
  return (
    <Paper
      sx={{ m: 2, mb: 0, p: 2, borderLeft: `3px solid ${tint("clay")}` }}
      role="region"
      aria-label="To be repaired"
    >
      <Typography variant="h3" component="h2" sx={{ mb: 1 }}>
        Some of your own work cannot be used as it is
      </Typography>
      {broken.map((b) => (
        <BrokenOne key={`${b.kind}:${b.id}`} broken={b} />
      ))}
      {unmatched.map((u) => (
        <UnmatchedOne key={u.company_id} company={u} />
      ))}
    </Paper>
  );
}

function BrokenOne({ broken: b }: { broken: Broken }) {
  const [text, setText] = useState(b.body);
  const [open, setOpen] = useState(false);
  const [wrong, setWrong] = useState<string | null>(null);
  const ofCompany = b.version === null || b.version === undefined;
  const save = useAssuming((body: unknown) =>
    ofCompany
      ? api.assumeOf(b.id, body as Schemas["Override"])
      : api.saveDocument(b.id, b.version ?? 0, {
          kind: b.kind as Schemas["DocumentKind"],
          folder: b.folder,
          name: b.name,
          note: b.note,
          body,
        }),
  );
  const forget = useAssuming(() => api.matchCompany(b.id, null));
  const take = () => {
    try {
      save.mutate(JSON.parse(text), { onError: (e) => setWrong(e.message) });
    } catch {
      setWrong("This is not JSON. Check quotation marks, commas and braces.");
    }
  };
  return (
    <Box sx={{ mb: 1 }}>
      <Typography variant="body2">
        <b>{b.name}</b> ({KINDS[b.kind] ?? b.kind}): {b.problem}. {b.instead}{" "}
        <Button onClick={() => setOpen(!open)}>{open ? "Close" : "Repair"}</Button>
      </Typography>
      {open && (
        <Box sx={{ display: "grid", gap: 1, mt: 0.5 }}>
          <TextField
            label="As it is kept"
            multiline
            maxRows={10}
            value={text}
            error={wrong !== null}
            helperText={wrong}
            onChange={(e) => setText(e.target.value)}
            slotProps={{ htmlInput: { style: { fontFamily: "monospace", fontSize: 12 } } }}
          />
          <Box sx={{ display: "flex", gap: 1 }}>
            <Button variant="contained" onClick={take} disabled={save.isPending}>
              Save repaired
            </Button>
            {ofCompany && <Button onClick={() => forget.mutate(undefined)}>Delete</Button>}
          </Box>
        </Box>
      )}
    </Box>
  );
}

function UnmatchedOne({ company: u }: { company: Unmatched }) {
  const [symbol, setSymbol] = useState("");
  const match = useAssuming((to: string | null) => api.matchCompany(u.company_id, to));
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap", mb: 1 }}>
      <Typography variant="body2" sx={{ flex: 1, minWidth: 240 }}>
        You assume something of <b>{u.name || u.symbol || u.company_id}</b> ({u.symbol || u.isin}), which this dataset
        does not have.
      </Typography>
      <TextField
        label="It is now"
        placeholder="symbol or ISIN"
        value={symbol}
        error={match.isError}
        helperText={match.error?.message}
        onChange={(e) => setSymbol(e.target.value)}
        sx={{ width: 180 }}
      />
      <Button
        variant="contained"
        disabled={!symbol.trim() || match.isPending}
        onClick={() => match.mutate(symbol.trim())}
      >
        Match
      </Button>
      <Button onClick={() => match.mutate(null)}>Forget</Button>
    </Box>
  );
}
