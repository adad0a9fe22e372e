// A broker's statement: chosen, held against the journal line by line, and taken in as a whole.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import type { Schemas } from "../../../api/client";
import { heldAgainst, useLedgerChange } from "../../../api/ledger";
import { Loading } from "../../../components/States";
import { day } from "../../../headless/format";
import { Differences } from "./Differences";
import { StatementMappingFields } from "./StatementMappingFields";
import { StatementRows } from "./StatementRows";

type Asked = Schemas["AccountStatementRequest"];
type Statement = Schemas["AccountStatement"];

interface Props {
  accounts: Schemas["AccountRow"][];
  close: () => void;
}

export function StatementForm({ accounts, close }: Props) {
  const [file, setFile] = useState<File | null>(null);
  const [asked, setAsked] = useState<Asked>({
    account: accounts[0]?.id ?? "",
    mapping: null,
    leave_out: [],
    take_alike: [],
    settle: [],
    take: false,
  });
  const held = useQuery({
    queryKey: ["ledger", "statement", file?.name, file?.size, file?.lastModified, asked],
    queryFn: () => heldAgainst(file as File, asked),
    enabled: file !== null,
    placeholderData: (before) => before,
    retry: false,
  });
  const taking = useLedgerChange<Statement>();
  const set = (to: Partial<Asked>) => setAsked((before) => ({ ...before, ...to }));
  const found = file ? held.data : undefined;
  const take = () => file && taking.mutate(() => heldAgainst(file, { ...asked, take: true }), { onSuccess: close });
  const nothing = !found || (found.new === 0 && asked.settle.length === 0) || found.problem != null;
  return (
    <>
      <DialogTitle>Bring a statement</DialogTitle>
      <DialogContent>
        <Chosen file={file} setFile={setFile} asked={asked} set={set} accounts={accounts} />
        {[held.error?.message, taking.error?.message, found?.problem].filter(Boolean).map((p) => (
          <Alert key={p} severity="warning" variant="outlined" icon={false} sx={{ mt: 1.5 }}>
            {p}
          </Alert>
        ))}
        {held.isFetching && !found && <Loading />}
        {found?.mapping && <StatementMappingFields of={found.mapping} change={(mapping) => set({ mapping })} />}
        {found && <Held found={found} asked={asked} set={set} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        <Button variant="contained" disabled={nothing || taking.isPending} onClick={take}>
          {found && found.new > 0 ? `Take in ${found.new}` : "Take in"}
        </Button>
      </DialogActions>
    </>
  );
}

interface ChosenProps extends Pick<Props, "accounts"> {
  file: File | null;
  setFile: (to: File | null) => void;
  asked: Asked;
  set: (to: Partial<Asked>) => void;
}

function Chosen({ file, setFile, asked, set, accounts }: ChosenProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <Box sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap", pt: 1 }}>
      <TextField
        select
        label="Into the account"
        value={asked.account}
        onChange={(e) => set({ account: e.target.value })}
        sx={{ minWidth: 190 }}
      >
        {accounts.map((a) => (
          <MenuItem key={a.id} value={a.id}>
            {a.name}
          </MenuItem>
        ))}
      </TextField>
      <Button variant="outlined" onClick={() => input.current?.click()}>
        {file ? "Another file…" : "Choose a file…"}
      </Button>
      <input
        ref={input}
        type="file"
        accept=".ofx,.qfx,.csv,.txt"
        aria-label="Statement"
        hidden
        onChange={(e) => {
          setFile(e.target.files?.[0] ?? null);
          set({ mapping: null, leave_out: [], take_alike: [], settle: [] });
        }}
      />
      <Typography variant="body2" color="textSecondary" noWrap sx={{ flex: 1, minWidth: 120 }}>
        {file?.name ?? "OFX of either version, or CSV. Nothing is taken in before you have seen it."}
      </Typography>
    </Box>
  );
}

function Held({ found, asked, set }: { found: Statement; asked: Asked; set: (to: Partial<Asked>) => void }) {
  return (
    <>
      <Typography variant="sentence" component="p" sx={{ mt: 1.5 }} aria-live="polite">
        {inASentence(found)}
      </Typography>
      <StatementRows found={found} asked={asked} set={set} />
      {found.left_out.map((l, i) => (
        <Typography key={i} variant="body2" color="textSecondary">
          Left out: {l.what} {l.id} – {l.why}
        </Typography>
      ))}
      <Differences all={found.differences} chosen={asked.settle} choose={(settle) => set({ settle })} />
    </>
  );
}

/** "10 new entries of the account R-1001, 2 known already; cash and shares are as the journal says." */
function inASentence(f: Statement): string {
  const some = (n: number, words: string) => (n > 0 ? `, ${n} ${words}` : "");
  const of = f.account ? ` of the account ${f.account}` : "";
  const start = `${f.new} new ${f.new === 1 ? "entry" : "entries"}${of}`;
  const rest = `${some(f.known, "taken in before")}${some(f.alike, "entered by hand before")}${some(f.refused, "refused")}`;
  const end = f.ends_on
    ? `; on ${day(f.ends_on)} ${f.differences.length > 0 ? "it differs from the journal" : "nothing differs"}`
    : "";
  return `${start}${rest}${end}.`;
}
