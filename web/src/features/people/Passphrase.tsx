// Choosing another passphrase.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { people, useChange } from "../../api/people";
import { moment } from "../../headless/format";
import { GOOD } from "./passphrases";
import { PassphraseField } from "./PassphraseField";
import { Problem } from "./Problem";

export function Passphrase({ since, name }: { since: string; name: string }) {
  const [open, setOpen] = useState(false);
  const [now, setNow] = useState("");
  const [next, setNext] = useState("");
  const change = useChange(people.changePassphrase, "account");
  const close = () => {
    setOpen(false);
    setNow("");
    setNext("");
  };
  return (
    <Box component="section" aria-label="Passphrase">
      <Typography variant="h2">Passphrase</Typography>
      <Typography variant="body2" color="textSecondary" sx={{ my: 1 }}>
        Chosen {moment(since)}. With another one you are signed out everywhere else.
      </Typography>
      {!open && (
        <Button variant="outlined" onClick={() => setOpen(true)}>
          Choose another…
        </Button>
      )}
      {open && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            change.mutate({ now, new: next }, { onSuccess: close });
          }}
        >
          {/* For whatever keeps passphrases. */}
          <input type="text" autoComplete="username" value={name} readOnly hidden />
          <PassphraseField label="The one that counts now" value={now} set={setNow} autoFocus />
          <PassphraseField label="The new one" value={next} set={setNext} fresh help={GOOD} />
          <Button type="submit" variant="contained" loading={change.isPending} sx={{ mt: 1, mr: 1 }}>
            Change it
          </Button>
          <Button onClick={close}>Cancel</Button>
          <Problem error={change.error} />
        </form>
      )}
    </Box>
  );
}
