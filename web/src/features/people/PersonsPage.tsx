// Who may sign in, and who is invited: what owners say.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { type Person, people, type Role, useChange, usePersons } from "../../api/people";
import { MenuButton } from "../../components/menu/MenuButton";
import { Failed, Loading } from "../../components/States";
import { Table } from "../../components/Table";
import { among, WordChoice } from "../../components/WordChoice";
import { day, moment } from "../../headless/format";
import { OnceShown } from "./OnceShown";
import { Problem } from "./Problem";
import { RemoveDialog } from "./RemoveDialog";

const ROLES: readonly Role[] = ["member", "owner"];

interface Told {
  title: string;
  link: string;
  ends: string;
}

export function PersonsPage() {
  const persons = usePersons();
  const [told, tell] = useState<Told | null>(null);
  const [leaving, leave] = useState<Person | null>(null);
  useEffect(() => {
    document.title = "People – Artemon";
  }, []);
  if (persons.error) return <Failed error={persons.error} retry={() => void persons.refetch()} />;
  if (!persons.data) return <Loading />;
  const { persons: all, invitations } = persons.data;
  const linked = (title: string) => (made: Schemas["Invitation"]) =>
    tell({ title, link: made.link, ends: made.ends_at });
  return (
    <>
      <Typography variant="h1">People</Typography>
      <Typography variant="sentence" sx={{ mb: 1 }}>
        Owners bring data, keep copies and say who may sign in; members work with what is there. Nobody, owners
        included, sees another's work unless it is shared.
      </Typography>
      {told && (
        <OnceShown
          title={told.title}
          says={`Whoever opens this link chooses a passphrase, once, until ${moment(told.ends)}. Send it over a way that nobody else reads; it is not shown again.`}
          secret={told.link}
          close={() => tell(null)}
        />
      )}
      <Invite made={linked("An invitation")} />
      <List all={all} remove={leave} linked={linked} />
      {invitations.length > 0 && <Invitations all={invitations} />}
      {leaving && (
        <RemoveDialog person={leaving} others={all.filter((p) => p.id !== leaving.id)} close={() => leave(null)} />
      )}
    </>
  );
}

function Invite({ made }: { made: (invitation: Schemas["Invitation"]) => void }) {
  const [note, setNote] = useState("");
  const [role, setRole] = useState<Role>("member");
  const invite = useChange(people.invite, "persons");
  const kept = (link: Schemas["Invitation"]) => {
    setNote("");
    made(link);
  };
  return (
    <Box
      component="form"
      aria-label="Invite somebody"
      onSubmit={(e) => {
        e.preventDefault();
        invite.mutate({ role, note }, { onSuccess: kept });
      }}
      sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap", my: 1.5 }}
    >
      <TextField label="For whom" value={note} onChange={(e) => setNote(e.target.value)} sx={{ width: 240 }} />
      <Typography variant="body2">
        as <WordChoice means="Role" word={role} items={among(ROLES, role, (r) => r, setRole)} />
      </Typography>
      <Button type="submit" variant="contained" loading={invite.isPending}>
        Invite
      </Button>
      <Problem error={invite.error} />
    </Box>
  );
}

interface ListProps {
  all: Person[];
  remove: (person: Person) => void;
  linked: (title: string) => (made: Schemas["Invitation"]) => void;
}

function List({ all, remove, linked }: ListProps) {
  const change = useChange(
    ({ id, role }: { id: string; role: Role }) => people.changeRole(id, role),
    "persons",
    "presence",
  );
  const back = useChange(({ id, lost }: { id: string; lost: boolean }) => people.wayBack(id, lost), "persons");
  const out = useChange(people.signPersonOut, "persons");
  const items = (p: Person) => [
    p.role === "owner"
      ? { label: "Make a member", run: () => change.mutate({ id: p.id, role: "member" }) }
      : { label: "Make an owner", run: () => change.mutate({ id: p.id, role: "owner" }) },
    ...[false, true]
      .filter((lost) => !lost || p.second_factor)
      .map((lost) => ({
        label: lost ? "The same, second factor lost" : "Link for another passphrase",
        run: () => back.mutate({ id: p.id, lost }, { onSuccess: linked(`A way back in for ${p.name}`) }),
      })),
    ...(p.seen_at && !p.me ? [{ label: "Sign out everywhere", run: () => out.mutate(p.id) }] : []),
    { label: "Remove…", run: () => remove(p) },
  ];
  return (
    <>
      <Table
        label="People"
        left={[0, 1, 2, 3, 4]}
        head={["Name", "Role", "Since", "Last seen", "Second factor", ""]}
        rows={all.map((p) => ({
          key: p.id,
          cells: [
            <span key="name">
              <b>{p.name}</b>
              {p.me && <span className="second"> · you</span>}
            </span>,
            p.role,
            day(p.joined_at.slice(0, 10)),
            p.seen_at ? moment(p.seen_at) : "not signed in",
            p.second_factor ? "on" : "off",
            <MenuButton
              key="do"
              label="▾"
              means={`What can be done with ${p.name}`}
              items={items(p)}
              sx={{ minWidth: 28 }}
            />,
          ],
        }))}
      />
      <Problem error={change.error ?? back.error ?? out.error} />
    </>
  );
}

function Invitations({ all }: { all: Schemas["InvitationEntry"][] }) {
  const withdraw = useChange(people.withdraw, "persons");
  return (
    <Box component="section" aria-label="Invitations" sx={{ mt: 2 }}>
      <Typography variant="h2">Invitations not taken up</Typography>
      <Table
        label="Invitations"
        left={[0, 1, 2, 3]}
        head={["For", "As", "Made", "Until", ""]}
        rows={all.map((i) => ({
          key: i.id,
          cells: [
            i.note || "somebody",
            i.way_back ? "a way back in" : i.role,
            moment(i.made_at),
            moment(i.ends_at),
            <Button key="do" onClick={() => withdraw.mutate(i.id)}>
              Withdraw
            </Button>,
          ],
        }))}
      />
      <Problem error={withdraw.error} />
    </Box>
  );
}
