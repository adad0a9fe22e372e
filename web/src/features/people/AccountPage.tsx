// One's account: the passphrase, the second factor, where one is signed in, everything as a file, and leaving.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import type { Schemas } from "../../api/client";
import { people, useAccount, useChange } from "../../api/people";
import { Failed, Loading } from "../../components/States";
import { Table } from "../../components/Table";
import { moment } from "../../headless/format";
import { Leave } from "./Leave";
import { Passphrase } from "./Passphrase";
import { Problem } from "./Problem";
import { SecondFactor } from "./SecondFactor";

export function AccountPage() {
  const account = useAccount();
  useEffect(() => {
    document.title = "Account – Artemon";
  }, []);
  if (account.error) return <Failed error={account.error} retry={() => void account.refetch()} />;
  if (!account.data) return <Loading />;
  const { name, role, sessions } = account.data;
  return (
    <>
      <Typography variant="h1">{name}</Typography>
      <Typography variant="sentence" sx={{ mb: 2 }}>
        {role === "owner"
          ? "You are an owner: you bring data, keep copies, and say who may sign in. Your work is yours alone until you share it."
          : "You are a member. Your work is yours alone until you share it."}
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", lg: "1fr 1fr" }, columnGap: 5, rowGap: 3 }}>
        <Passphrase since={account.data.passphrase_at} name={name} />
        <SecondFactor on={account.data.second_factor} codes={account.data.recovery_codes} />
      </Box>
      <Sessions sessions={sessions} />
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", lg: "1fr 1fr" }, columnGap: 5, rowGap: 3, mt: 3 }}>
        <Everything />
        <Leave name={name} />
      </Box>
    </>
  );
}

function Sessions({ sessions }: { sessions: Schemas["SessionEntry"][] }) {
  const end = useChange(people.endSession, "account");
  const endOthers = useChange(people.signOutElsewhere, "account");
  return (
    <Box component="section" aria-label="Where you are signed in" sx={{ mt: 3 }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 2 }}>
        <Typography variant="h2">Where you are signed in</Typography>
        {sessions.length > 1 && (
          <Button variant="outlined" loading={endOthers.isPending} onClick={() => endOthers.mutate()}>
            Sign out everywhere else
          </Button>
        )}
      </Box>
      <Table
        label="Where you are signed in"
        left={[0, 1, 2, 3]}
        head={["Browser", "From", "Since", "Last seen", ""]}
        rows={sessions.map((s) => ({
          key: s.id,
          cells: [
            <span key="browser" data-hint={s.browser}>
              {browser(s.browser)}
              {s.this && <b> · this one</b>}
            </span>,
            s.address,
            moment(s.made_at),
            moment(s.seen_at),
            s.this ? (
              ""
            ) : (
              <Button key="end" onClick={() => end.mutate(s.id)}>
                Sign out
              </Button>
            ),
          ],
        }))}
      />
      <Problem error={end.error ?? endOthers.error} />
      <Typography variant="body2" color="textSecondary">
        A session ends after two hours without you, and after a day in any case.
      </Typography>
    </Box>
  );
}

/** What a browser calls itself, in short. */
function browser(agent: string): string {
  const system = /Windows|Macintosh|Android|iPhone|iPad|Linux/.exec(agent)?.[0].replace("Macintosh", "Mac");
  const kind = /(Firefox|Edg|Chrome|Safari|curl)/.exec(agent)?.[0].replace("Edg", "Edge");
  return [kind ?? "A browser", system && `on ${system}`].filter(Boolean).join(" ");
}

function Everything() {
  const take = useChange(people.everything);
  return (
    <Box component="section" aria-label="Take everything along">
      <Typography variant="h2">Take everything along</Typography>
      <Typography variant="body2" color="textSecondary" sx={{ my: 1 }}>
        One zip with all that is yours: screens, lists, notes, measures and assumptions as files that can be brought
        back, the ledger, backtests, messages, and every row as it is kept.
      </Typography>
      <Button variant="outlined" loading={take.isPending} onClick={() => take.mutate()}>
        Save everything
      </Button>
      <Problem error={take.error} />
    </Box>
  );
}
