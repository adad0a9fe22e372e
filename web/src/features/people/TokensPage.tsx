// Access tokens: what a script may do in one's name, and until when.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { people, type Scope, useChange, useTokens, useWho } from "../../api/people";
import { NumberField } from "../../components/NumberField";
import { Failed, Loading } from "../../components/States";
import { Table } from "../../components/Table";
import { day, moment } from "../../headless/format";
import { OnceShown } from "./OnceShown";
import { Problem } from "./Problem";

const SCOPES: { scope: Scope; label: string; means: string }[] = [
  { scope: "read", label: "Read", means: "whatever you can read, and figures worked out" },
  { scope: "write", label: "Change", means: "screens, lists, notes, the ledger" },
  { scope: "data", label: "Bring data", means: "imports and sessions, for owners" },
];

export function TokensPage() {
  const tokens = useTokens();
  const [made, setMade] = useState<string | null>(null);
  const end = useChange(people.endToken, "tokens");
  useEffect(() => {
    document.title = "Access tokens – Artemon";
  }, []);
  if (tokens.error) return <Failed error={tokens.error} retry={() => void tokens.refetch()} />;
  if (!tokens.data) return <Loading />;
  return (
    <>
      <Typography variant="h1">Access tokens</Typography>
      <Typography variant="sentence" sx={{ mb: 1 }}>
        With a token a script of yours asks the server in your name, for what you allow and as long as you say.
      </Typography>
      {made && (
        <OnceShown
          title="Your token"
          says={
            <>
              It is not shown again. A script sends it with each request as <code>Authorization: Bearer …</code>; the
              requests are described at <code>/api/openapi.json</code>.
            </>
          }
          secret={made}
          close={() => setMade(null)}
        />
      )}
      <NewToken made={(token) => setMade(token.token)} />
      {tokens.data.length > 0 && (
        <Table
          label="Access tokens"
          left={[0, 1, 2, 3, 4]}
          head={["For", "May", "Made", "Last used", "Ends", ""]}
          rows={tokens.data.map((t) => ({
            key: t.id,
            quiet: t.ended,
            cells: [
              <b key="name" style={{ whiteSpace: "normal" }}>
                {t.name}
              </b>,
              SCOPES.filter((s) => t.scopes.includes(s.scope))
                .map((s) => s.label.toLowerCase())
                .join(", "),
              moment(t.made_at),
              t.used_at ? moment(t.used_at) : "never",
              t.ended ? `ended ${day(t.ends_at.slice(0, 10))}` : day(t.ends_at.slice(0, 10)),
              <Button key="end" onClick={() => end.mutate(t.id)} aria-label={`End the token ${t.name}`}>
                {t.ended ? "Forget" : "End"}
              </Button>,
            ],
          }))}
        />
      )}
      {tokens.data.length === 0 && <Typography color="textSecondary">You have none yet.</Typography>}
      <Problem error={end.error} />
    </>
  );
}

function NewToken({ made }: { made: (token: Schemas["TokenMade"]) => void }) {
  const owner = useWho(true).data?.who?.role === "owner";
  const [name, setName] = useState("");
  const [scopes, setScopes] = useState<Scope[]>(["read"]);
  const [days, setDays] = useState(90);
  const make = useChange(people.makeToken, "tokens");
  const kept = (token: Schemas["TokenMade"]) => {
    setName("");
    made(token);
  };
  const toggle = (scope: Scope) =>
    setScopes(scopes.includes(scope) ? scopes.filter((s) => s !== scope) : [...scopes, scope]);
  return (
    <Box
      component="form"
      aria-label="A new token"
      onSubmit={(e) => {
        e.preventDefault();
        make.mutate({ name, scopes, days }, { onSuccess: kept });
      }}
      sx={{ display: "flex", gap: 2, alignItems: "flex-start", flexWrap: "wrap", my: 1.5 }}
    >
      <TextField
        label="What it is for"
        value={name}
        onChange={(e) => setName(e.target.value)}
        required
        sx={{ width: 240 }}
      />
      <Box>
        {SCOPES.filter((s) => owner || s.scope !== "data").map(({ scope, label, means }) => (
          <FormControlLabel
            key={scope}
            sx={{ display: "flex", height: 28 }}
            control={<Checkbox checked={scopes.includes(scope)} onChange={() => toggle(scope)} />}
            label={
              <Typography variant="body2">
                <b>{label}</b> <span className="second">{means}</span>
              </Typography>
            }
          />
        ))}
      </Box>
      <NumberField label="Days" value={days} set={(to) => to !== null && setDays(Math.round(to))} width={90} />
      <Box>
        <Button
          type="submit"
          variant="contained"
          disabled={name.trim() === "" || scopes.length === 0}
          loading={make.isPending}
        >
          Make a token
        </Button>
        <Problem error={make.error} />
      </Box>
    </Box>
  );
}
