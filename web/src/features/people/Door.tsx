// Signing in. The code of the second factor is asked for once the passphrase was right.
import TextField from "@mui/material/TextField";
import { useMutation } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Refusal } from "../../api/client";
import { people } from "../../api/people";
import { Card } from "./Card";
import { PassphraseField } from "./PassphraseField";
import { Submit } from "./Submit";

interface Props {
  enter: (name: string) => void;
  /** Who was here until the session ended. */
  again?: string;
}

export function Door({ enter, again }: Props) {
  const [name, setName] = useState(again ?? "");
  const [passphrase, setPassphrase] = useState("");
  const [code, setCode] = useState("");
  const [coded, setCoded] = useState(false);
  const signIn = useMutation({
    mutationFn: () => people.signIn({ name, passphrase, code }),
    onSuccess: (who) => enter(who.name),
    onError: (e) => e instanceof Refusal && e.kind === "code-needed" && setCoded(true),
  });
  useEffect(() => {
    document.title = "Sign in – Artemon";
  }, []);
  const problem = signIn.error instanceof Refusal && signIn.error.kind === "code-needed" ? null : signIn.error;
  const says = again
    ? "Your session has ended. What you typed is still here: sign in, and go on where you were."
    : "This server is used by several people. Each sees only what is theirs, and what others share.";
  return (
    <Card title={again ? "Sign in again" : "Sign in"} says={says}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          signIn.mutate();
        }}
      >
        <TextField
          label="Name"
          value={name}
          onChange={(e) => setName(e.target.value)}
          required
          fullWidth
          margin="dense"
          autoFocus={!again}
          slotProps={{ htmlInput: { autoComplete: "username", spellCheck: false } }}
        />
        <PassphraseField label="Passphrase" value={passphrase} set={setPassphrase} autoFocus={again !== undefined} />
        {coded && (
          <TextField
            label="Code"
            value={code}
            onChange={(e) => setCode(e.target.value)}
            required
            fullWidth
            margin="dense"
            autoFocus
            helperText="The six digits that your authenticator shows, or one of your recovery codes."
            slotProps={{ htmlInput: { autoComplete: "one-time-code", spellCheck: false } }}
          />
        )}
        <Submit label="Sign in" pending={signIn.isPending} problem={problem} />
      </form>
    </Card>
  );
}
