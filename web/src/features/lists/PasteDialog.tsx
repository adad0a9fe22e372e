// Companies from a text or a file: what was understood is shown before anything lands.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Link from "@mui/material/Link";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useDeferredValue, useState } from "react";
import type { Schemas } from "../../api/client";
import { useMatched } from "../../api/following";
import { plain } from "../../headless/format";
import { tint } from "../../theme/theme";

type Pasted = Schemas["Pasted"];

interface Props {
  title: string;
  begin: string;
  take: (matched: Schemas["PastedCompany"][]) => void;
  close: () => void;
}

export function PasteDialog({ title, begin, take, close }: Props) {
  const [text, setText] = useState(begin);
  const asked = useDeferredValue(text);
  const { data, error, isFetching } = useMatched(asked);
  const found = asked.trim() === "" ? undefined : data;
  /** What is unclear gives way to what is meant, where it stands. */
  const replace = (unclear: string, symbol: string) =>
    setText(
      text.replace(
        new RegExp(`(^|[\\s,;])${unclear.replace(/[.*+?^${}()|[\]\\]/g, "\\$&")}(?=$|[\\s,;])`, "m"),
        `$1${symbol}`,
      ),
    );
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>{title}</DialogTitle>
      <DialogContent>
        <TextField
          multiline
          minRows={4}
          maxRows={9}
          fullWidth
          autoFocus
          margin="dense"
          label="Symbols, ISINs or names, as they come; or a table with a heading"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        {error && (
          <Alert severity="warning" variant="outlined" icon={false}>
            {error.message}
          </Alert>
        )}
        {found && <Understood found={found} replace={replace} />}
      </DialogContent>
      <DialogActions>
        <Button component="label">
          From a file…
          <input
            type="file"
            accept=".csv,.tsv,.txt,text/*"
            hidden
            onChange={(e) => void e.target.files?.[0]?.text().then(setText)}
          />
        </Button>
        <Box sx={{ flex: 1 }} />
        <Button onClick={close}>Cancel</Button>
        <Button
          variant="contained"
          disabled={!found || found.matched.length === 0 || isFetching || asked !== text}
          onClick={() => found && take(found.matched)}
        >
          {found && found.matched.length > 0 ? `Put ${found.matched.length} on the list` : "Put on the list"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Understood({ found, replace }: { found: Pasted; replace: (unclear: string, symbol: string) => void }) {
  return (
    <>
      {[...found.unknown, ...found.ambiguous].length > 0 && (
        <Box sx={{ my: 1, p: 1.25, border: `1px solid ${tint("clay")}`, borderRadius: 1 }}>
          <Unclear title="Unknown" all={found.unknown} replace={replace} />
          <Unclear title="May mean several" all={found.ambiguous} replace={replace} />
        </Box>
      )}
      <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
        {plain(found.matched.length, 0)} understood
        {found.repeated > 0 && `, ${plain(found.repeated, 0)} named more than once`}
      </Typography>
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0, maxHeight: 220, overflowY: "auto", fontSize: 13 }}>
        {found.matched.map((m) => (
          <Box component="li" key={m.company.symbol} sx={{ display: "flex", gap: 1, py: 0.25 }}>
            <Box sx={{ width: 130, flexShrink: 0, overflow: "hidden", textOverflow: "ellipsis" }} className="second">
              {m.text}
            </Box>
            <b>{m.company.name}</b>
            <span className="faint">{m.company.symbol}</span>
            {m.own.price !== null && <span className="brass">pay {m.own.price}</span>}
            {!m.company.listed && <span className="clay">no longer listed</span>}
          </Box>
        ))}
      </Box>
    </>
  );
}

interface UnclearProps {
  title: string;
  all: Schemas["UnclearText"][];
  replace: (unclear: string, symbol: string) => void;
}

function Unclear({ title, all, replace }: UnclearProps) {
  return all.map((u) => (
    <Typography key={u.text} variant="body2" sx={{ py: 0.25 }}>
      <span className="clay">{title}:</span> <b>{u.text}</b>
      {u.offered.length > 0 && (
        <span className="second">
          {" "}
          — perhaps{" "}
          {u.offered.map((o, i) => (
            <span key={o.symbol}>
              {i > 0 && ", "}
              <Link component="button" type="button" onClick={() => replace(u.text, o.symbol)}>
                {o.name} {o.symbol}
              </Link>
            </span>
          ))}
        </span>
      )}
    </Typography>
  ));
}
