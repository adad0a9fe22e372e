// Taking an invitation up: a name and a passphrase of one's own, or another passphrase for who comes back.
import Link from "@mui/material/Link";
import TextField from "@mui/material/TextField";
import { useMutation } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Refusal } from "../../api/client";
import { people, useInvitation } from "../../api/people";
import { Failed, Loading } from "../../components/States";
import { Card } from "./Card";
import { GOOD } from "./passphrases";
import { PassphraseField } from "./PassphraseField";
import { Submit } from "./Submit";

interface Props {
  token: string;
  enter: (name: string) => void;
}

export function JoinPage({ token, enter }: Props) {
  const invitation = useInvitation(token);
  const [name, setName] = useState("");
  const [passphrase, setPassphrase] = useState("");
  const join = useMutation({
    mutationFn: () => people.join({ token, name, passphrase }),
    onSuccess: (who) => {
      if (who) enter(who.name);
      window.location.assign("/");
    },
  });
  useEffect(() => {
    document.title = "Invitation – Artemon";
  }, []);
  const { error } = invitation;
  if (error && !(error instanceof Refusal && error.kind === "missing")) {
    return <Failed error={error} retry={() => void invitation.refetch()} />;
  }
  if (error) {
    return (
      <Card title="This invitation leads nowhere" says="It was used already, withdrawn, or is too old.">
        Ask whoever sent it for another one, or <Link href="/">sign in</Link> if you have been here before.
      </Card>
    );
  }
  if (!invitation.data) return <Loading />;
  const { way_back: back, note, role } = invitation.data;
  const says = back
    ? "Choose another passphrase. You are signed out everywhere else; a second factor that you have is asked for when you sign in."
    : role === "owner"
      ? "You are invited as an owner: you bring data, keep copies, and say who else may sign in."
      : "You are invited. Choose the name by which others know you, and a passphrase.";
  return (
    <Card title={back ? `Welcome back, ${note}` : "Welcome"} says={says}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          join.mutate();
        }}
      >
        {!back && (
          <TextField
            label="Name"
            value={name}
            onChange={(e) => setName(e.target.value)}
            required
            fullWidth
            margin="dense"
            autoFocus
            slotProps={{ htmlInput: { autoComplete: "username", maxLength: 40, spellCheck: false } }}
          />
        )}
        <PassphraseField label="Passphrase" value={passphrase} set={setPassphrase} fresh help={GOOD} autoFocus={back} />
        <Submit label={back ? "Choose this passphrase" : "Come in"} pending={join.isPending} problem={join.error} />
      </form>
    </Card>
  );
}
