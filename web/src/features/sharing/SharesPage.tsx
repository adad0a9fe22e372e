// What one shares: each with its link, and the way to take it back.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { Link as RouterLink } from "react-router";
import { people, useChange, useShares } from "../../api/people";
import { CopyButton } from "../../components/CopyButton";
import { Empty, Failed, Loading } from "../../components/States";
import { Table } from "../../components/Table";
import { moment } from "../../headless/format";

export function SharesPage() {
  const shares = useShares();
  const back = useChange(people.takeBack, "shares");
  useEffect(() => {
    document.title = "What I share – Artemon";
  }, []);
  if (shares.error) return <Failed error={shares.error} retry={() => void shares.refetch()} />;
  if (!shares.data) return <Loading />;
  return (
    <>
      <Typography variant="h1">What I share</Typography>
      <Typography variant="sentence" sx={{ mb: 1 }}>
        Everybody who can sign in here and has the link reads these as you see them. What is taken back is gone for
        others at once; copies that they took stay theirs.
      </Typography>
      {shares.data.length === 0 && (
        <Empty title="Nothing is shared">
          Screens, lists, columns, measures, assumption sets, forecasts and backtests have “Share…” in their menus.
        </Empty>
      )}
      {shares.data.length > 0 && (
        <Table
          label="What I share"
          left={[0, 1, 2]}
          head={["Name", "What", "Since", ""]}
          rows={shares.data.map((s) => ({
            key: s.token,
            cells: [
              <Link key="name" component={RouterLink} to={`/shared/${s.token}`}>
                {s.name}
              </Link>,
              s.what,
              moment(s.shared_at),
              <Box key="do">
                <CopyButton text={s.link} label="Copy the link" />
                <Button onClick={() => back.mutate(s.token)}>Take it back</Button>
              </Box>,
            ],
          }))}
        />
      )}
    </>
  );
}
