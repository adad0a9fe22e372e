// Where messages go, and when the digest is made.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useState } from "react";
import type { Schemas } from "../../api/client";
import { mail, useMailChange } from "../../api/following";
import { useOwner } from "../../api/people";
import { useDocuments } from "../../api/queries";
import { Heading } from "../today/Section";

const Preview = lazy(async () => ({ default: (await import("./Preview")).Preview }));

type Settings = Schemas["MailSettings"];
type Smtp = Extract<Schemas["Delivery"], { kind: "smtp" }>;

const FIRST: Smtp = { kind: "smtp", host: "", port: 465, security: "tls", user: "", password: null };
const EVERY: [Schemas["DigestEvery"], string][] = [
  ["never", "none"],
  ["session", "after each session"],
  ["week", "once a week, after Friday's session"],
];

export function MailForm({ settings }: { settings: Settings }) {
  const [to, setTo] = useState(settings);
  const [told, tell] = useState<{ good: boolean; words: string } | null>(null);
  const [shown, show] = useState(false);
  const owner = useOwner();
  const save = useMailChange(mail.save);
  const test = useMailChange(mail.test);
  const set = (part: Partial<Settings>) => setTo({ ...to, ...part });
  const digest = (part: Partial<Schemas["DigestSettings"]>) => set({ digest: { ...to.digest, ...part } });
  const changed = JSON.stringify(to) !== JSON.stringify(settings);
  const bad = (wrong: Error) => tell({ good: false, words: wrong.message });
  return (
    <>
      <Heading title="The digest" />
      <Box sx={FIELDS}>
        <TextField
          select
          label="Digest"
          value={to.digest.every}
          onChange={(e) => digest({ every: e.target.value as Schemas["DigestEvery"] })}
          sx={{ width: 270 }}
        >
          {EVERY.map(([every, label]) => (
            <MenuItem key={every} value={every}>
              {label}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          type="time"
          label="Sent at"
          value={to.digest.at}
          onChange={(e) => digest({ at: e.target.value })}
          sx={{ width: 136 }}
        />
        <Tops chosen={to.digest.screens} set={(screens) => digest({ screens })} />
        <Button onClick={() => show(true)}>See it as it would be now</Button>
      </Box>
      <Heading title="How messages reach you" />
      <Box sx={FIELDS}>
        {owner ? (
          <TextField
            select
            label="Delivered"
            value={to.delivery.kind}
            onChange={(e) => set({ delivery: e.target.value === "smtp" ? FIRST : { kind: "outbox" } })}
            sx={{ width: 270 }}
          >
            <MenuItem value="outbox">into the outbox folder, as .eml files</MenuItem>
            <MenuItem value="smtp">through a mail server</MenuItem>
          </TextField>
        ) : (
          <Typography variant="body2" color="textSecondary" sx={{ width: 270 }}>
            Messages go out as an owner of this server has set it up.
          </Typography>
        )}
        <TextField
          label="To"
          value={to.to}
          placeholder="you@example.org"
          onChange={(e) => set({ to: e.target.value })}
          sx={{ width: 230 }}
        />
        {to.delivery.kind === "smtp" && <Server smtp={to.delivery} from={to.from} set={set} />}
      </Box>
      {told && (
        <Alert severity={told.good ? "success" : "warning"} variant="outlined" icon={false} sx={{ my: 1 }}>
          {told.words}
        </Alert>
      )}
      <Box sx={{ display: "flex", gap: 1, mb: 3 }}>
        <Button
          variant="contained"
          disabled={!changed || save.isPending}
          onClick={() => save.mutateAsync(to).then(() => tell({ good: true, words: "Kept." }), bad)}
        >
          Save
        </Button>
        <Button
          disabled={test.isPending}
          onClick={() => test.mutateAsync(to).then(() => tell({ good: true, words: "A test message was sent." }), bad)}
        >
          {test.isPending ? "Sending…" : "Send a test"}
        </Button>
      </Box>
      <Suspense>{shown && <Preview settings={to.digest} close={() => show(false)} />}</Suspense>
    </>
  );
}

const FIELDS = { display: "flex", flexWrap: "wrap", gap: 1.5, py: 1.5, alignItems: "center" };

function Server({ smtp, from, set }: { smtp: Smtp; from: string; set: (part: Partial<Settings>) => void }) {
  const change = (part: Partial<Smtp>) => set({ delivery: { ...smtp, ...part } });
  return (
    <>
      <TextField label="From" value={from} onChange={(e) => set({ from: e.target.value })} sx={{ width: 230 }} />
      <TextField
        label="Server"
        value={smtp.host}
        onChange={(e) => change({ host: e.target.value })}
        sx={{ width: 190 }}
      />
      <TextField
        label="Port"
        type="number"
        value={smtp.port}
        onChange={(e) => change({ port: Number(e.target.value) })}
        sx={{ width: 90 }}
      />
      <TextField
        select
        label="Encryption"
        value={smtp.security}
        onChange={(e) => change({ security: e.target.value as Smtp["security"] })}
        sx={{ width: 190 }}
      >
        <MenuItem value="tls">TLS from the start</MenuItem>
        <MenuItem value="starttls">STARTTLS</MenuItem>
        <MenuItem value="none">none, on this machine only</MenuItem>
      </TextField>
      <TextField
        label="User"
        value={smtp.user}
        onChange={(e) => change({ user: e.target.value })}
        sx={{ width: 190 }}
      />
      <TextField
        label="Password"
        type="password"
        autoComplete="off"
        value={smtp.password ?? ""}
        placeholder="as it was"
        onChange={(e) => change({ password: e.target.value || null })}
        sx={{ width: 190 }}
        slotProps={{ inputLabel: { shrink: true } }}
      />
    </>
  );
}

/** How many of the first companies of a screen are told. */
const TOP = 20;

function Tops({ chosen, set }: { chosen: Schemas["TopOfScreen"][]; set: (to: Schemas["TopOfScreen"][]) => void }) {
  const screens = useDocuments("screen").data ?? [];
  if (screens.length === 0)
    return (
      <Typography variant="body2" color="textSecondary">
        Save a screen to be told who enters and leaves its top.
      </Typography>
    );
  return (
    <TextField
      select
      label={`First ${TOP} of`}
      value={chosen.map((c) => c.screen)}
      onChange={(e) => set((e.target.value as unknown as string[]).map((screen) => ({ screen, top: TOP })))}
      slotProps={{ select: { multiple: true } }}
      sx={{ width: 270 }}
    >
      {screens.map((s) => (
        <MenuItem key={s.id} value={s.id}>
          {s.name}
        </MenuItem>
      ))}
    </TextField>
  );
}
