// The second factor: turned on with a first code, its recovery codes told once, and turned off.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { people, useChange } from "../../api/people";
import { count } from "../../headless/format";
import { OnceShown } from "./OnceShown";
import { Problem } from "./Problem";

interface FactorProps {
  on: boolean;
  codes: number;
  /** Told once the recovery codes were kept. */
  kept?: () => void;
}

export function SecondFactor({ on, codes, kept }: FactorProps) {
  const [told, tell] = useState<string[] | null>(null);
  const begin = useChange(people.beginSecondFactor);
  const off = useChange(people.turnOff, "account");
  const anew = useChange(people.newCodes, "account");
  const keep = (made: Schemas["RecoveryCodes"]) => {
    tell(made.codes);
    begin.reset();
  };
  return (
    <Box component="section" aria-label="Second factor">
      <Typography variant="h2">Second factor</Typography>
      <Typography variant="body2" color="textSecondary" sx={{ my: 1 }}>
        {on
          ? `A code is asked for at each sign-in. ${count(codes)} recovery ${codes === 1 ? "code is" : "codes are"} left.`
          : "A code of an authenticator on your phone, beside the passphrase: whoever learns the one still lacks the other."}
      </Typography>
      {told && (
        <OnceShown
          title="Your recovery codes"
          says="Each stands once for a code, when your phone is lost. Keep them on paper; they are not shown again."
          secret={told.join("\n")}
          close={() => {
            tell(null);
            kept?.();
          }}
        />
      )}
      {on && !told && (
        <>
          <Button variant="outlined" onClick={() => anew.mutate(undefined, { onSuccess: keep })} sx={{ mr: 1 }}>
            New recovery codes
          </Button>
          <Button loading={off.isPending} onClick={() => off.mutate()}>
            Turn it off
          </Button>
        </>
      )}
      {!on && !told && !begin.data && (
        <Button variant="outlined" loading={begin.isPending} onClick={() => begin.mutate()}>
          Turn it on…
        </Button>
      )}
      {!on && !told && begin.data && <TurnOn begun={begin.data} done={keep} cancel={begin.reset} />}
      <Problem error={begin.error ?? off.error ?? anew.error} />
    </Box>
  );
}

interface Props {
  begun: Schemas["BeginSecondFactor"];
  done: (codes: Schemas["RecoveryCodes"]) => void;
  cancel: () => void;
}

function TurnOn({ begun, done, cancel }: Props) {
  const [code, setCode] = useState("");
  const on = useChange(people.turnOn, "account");
  const { scan, scan_size: size, secret } = begun;
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        on.mutate({ secret, code }, { onSuccess: done });
      }}
    >
      <Box sx={{ display: "flex", gap: 2, alignItems: "flex-start", flexWrap: "wrap" }}>
        {/* Dark on light in both themes: cameras want it so. */}
        <svg
          role="img"
          aria-label="The secret, to be scanned"
          width={168}
          height={168}
          viewBox={`-3 -3 ${size + 6} ${size + 6}`}
          shapeRendering="crispEdges"
        >
          <rect x={-3} y={-3} width={size + 6} height={size + 6} fill="#fff" />
          <path d={scan} fill="#000" />
        </svg>
        <Box sx={{ flex: 1, minWidth: 220 }}>
          <Typography variant="body2">
            Scan this with your authenticator, or type the secret{" "}
            <b className="anywhere">{secret.match(/.{1,4}/g)?.join(" ")}</b>. Then type the six digits that it shows.
          </Typography>
          <TextField
            label="Code"
            value={code}
            onChange={(e) => setCode(e.target.value)}
            required
            autoFocus
            margin="dense"
            slotProps={{ htmlInput: { autoComplete: "one-time-code", inputMode: "numeric" } }}
          />
          <Box>
            <Button type="submit" variant="contained" loading={on.isPending} sx={{ mr: 1 }}>
              Turn it on
            </Button>
            <Button onClick={cancel}>Cancel</Button>
          </Box>
          <Problem error={on.error} />
        </Box>
      </Box>
    </form>
  );
}
