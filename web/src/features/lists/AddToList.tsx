// Onto which list: chosen by its number or name, or a new one is made.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useLists } from "../../api/following";
import { useListing } from "../../headless/listing";
import { tint } from "../../theme/theme";
import { useListWork } from "./useListWork";

export function AddToList() {
  const { companies, from, close } = useListing();
  const all = useLists().data ?? [];
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const told = (why: Error) => setProblem(why.message);
  const work = useListWork(told);
  const symbols = companies.map((c) => c.symbol);
  const put = (id: string, called: string) => work.add(id, called, symbols, from).then(close, told);
  const make = () => work.make(name.trim(), "").then((id) => put(id, name.trim()), told);
  const wanted = name.trim().toLowerCase();
  const shown = all.filter((l) => wanted === "" || l.name.toLowerCase().includes(wanted));
  const exact = all.find((l) => l.name.toLowerCase() === wanted);
  const has = (l: (typeof all)[number]) => symbols.every((s) => l.symbols.includes(s));
  const first = exact ?? (wanted !== "" ? shown[0] : undefined);
  return (
    <Dialog open onClose={close} fullWidth maxWidth="xs">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (first) void put(first.id, first.name);
          else if (wanted) void make();
        }}
      >
        <DialogTitle>
          {companies.length === 1 ? companies[0]?.name : `${companies.length} companies`} on a list
        </DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            fullWidth
            margin="dense"
            label="List, or the name of a new one"
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
          {problem && (
            <Alert severity="warning" variant="outlined" icon={false}>
              {problem}
            </Alert>
          )}
          <Box sx={{ mt: 0.5, maxHeight: 320, overflowY: "auto" }}>
            {shown.map((l) => (
              <Button
                key={l.id}
                fullWidth
                onClick={() => void put(l.id, l.name)}
                disabled={has(l)}
                sx={{ justifyContent: "flex-start", borderBottom: `1px solid ${tint("hairline")}`, borderRadius: 0 }}
              >
                <span>{l.name}</span>
                <Box component="span" className="second light" sx={{ ml: 1 }}>
                  {l.folder && `${l.folder.replaceAll("/", " › ")} · `}
                  {has(l) ? "already on it" : l.symbols.length}
                </Box>
              </Button>
            ))}
            {all.length === 0 && (
              <Typography variant="body2" color="textSecondary">
                You have no list yet. Type a name to make the first, “Watch” for example.
              </Typography>
            )}
          </Box>
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={wanted === ""}>
            {first ? `Put on ${first.name}` : wanted ? `Make “${name.trim()}”` : "Make a list"}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
