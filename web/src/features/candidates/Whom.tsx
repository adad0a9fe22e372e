// Whom to rank: everyone, the survivors of a screen, or pasted symbols.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useLists } from "../../api/following";
import { useGroups, useReadyScreens } from "../../api/queries";
import { useAsOf } from "../../headless/asOf";
import { readDraft } from "../../headless/screenState";
import { tint } from "../../theme/theme";
import type { Chosen } from "./choices";

interface Props {
  whom: string;
  symbols: string[];
  choose: Chosen["choose"];
}

export function Whom({ whom, symbols, choose }: Props) {
  const ready = useReadyScreens();
  const [asOf] = useAsOf();
  const groups = useGroups(asOf);
  const [pasting, setPasting] = useState(false);
  const lists = useLists();
  const draft = readDraft();
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 0.75 }}>
      <Typography variant="body2" color="textSecondary">
        among
      </Typography>
      <Select
        variant="standard"
        disableUnderline
        value={whom}
        inputProps={{ "aria-label": "Among whom" }}
        sx={{ fontSize: 13, fontWeight: 600, color: tint("teal") }}
        onChange={(e) =>
          e.target.value === "pasted" ? setPasting(true) : choose({ whom: e.target.value, symbols: null })
        }
      >
        <MenuItem value="all">all listed companies, without funds</MenuItem>
        {groups.data?.indexes.map((i) => (
          <MenuItem key={i.id} value={`index:${i.id}`}>
            the index {i.name}, {i.members} members
          </MenuItem>
        ))}
        {lists.data?.map((l) => (
          <MenuItem key={l.id} value={`list:${l.name}`}>
            the list {l.name}, {l.symbols.length} companies
          </MenuItem>
        ))}
        {draft && <MenuItem value="screen">the screen being edited: {draft.name}</MenuItem>}
        {ready.data?.map((r) => (
          <MenuItem key={r.id} value={r.id}>
            {r.screen.name}
          </MenuItem>
        ))}
        <MenuItem value="pasted">pasted symbols or ISINs, or a file…</MenuItem>
      </Select>
      {whom === "pasted" && (
        <Button onClick={() => setPasting(true)} sx={{ py: 0 }}>
          Change
        </Button>
      )}
      {pasting && (
        <Paste symbols={symbols} close={() => setPasting(false)} take={(s) => choose({ whom: "pasted", symbols: s })} />
      )}
    </Box>
  );
}

/** Of a table the first column, without its heading where it has one. */
function firstColumn(text: string): string {
  const cells = text
    .split(/\r?\n/)
    .map((line) => (line.split(/[;,\t]/)[0] ?? "").replaceAll('"', "").trim())
    .filter(Boolean);
  return cells.filter((c, i) => i > 0 || !/^(symbol|ticker|isin|code|company_id)$/i.test(c)).join("\n");
}

function Paste({ symbols, close, take }: { symbols: string[]; close: () => void; take: (symbols: string[]) => void }) {
  const [text, setText] = useState(symbols.join("\n"));
  const found = text.split(/[\s,;]+/).filter(Boolean);
  return (
    <Dialog open onClose={close} fullWidth maxWidth="xs">
      <DialogTitle>Rank these companies</DialogTitle>
      <DialogContent>
        <TextField
          multiline
          minRows={6}
          fullWidth
          autoFocus
          margin="dense"
          label="Symbols or ISINs, one per line or separated by commas"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </DialogContent>
      <DialogActions>
        <Button component="label">
          From a file…
          <input
            type="file"
            accept=".csv,.txt,text/*"
            hidden
            onChange={(e) => e.target.files?.[0]?.text().then((t) => setText(firstColumn(t)))}
          />
        </Button>
        <Box sx={{ flex: 1 }} />
        <Button onClick={close}>Cancel</Button>
        <Button
          variant="contained"
          disabled={found.length === 0}
          onClick={() => {
            take(found);
            close();
          }}
        >
          Rank {found.length || ""}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
