// The audit log: who did what that may matter, when and from where. It is only added to.
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { useLog } from "../../api/people";
import { Failed, Loading } from "../../components/States";
import { Table } from "../../components/Table";
import { moment } from "../../headless/format";

export const OwnLog = () => <LogPage everybody={false} />;
export const WholeLog = () => <LogPage everybody />;

function LogPage({ everybody }: { everybody: boolean }) {
  const log = useLog(everybody);
  const title = everybody ? "Audit log" : "Activity";
  useEffect(() => {
    document.title = `${title} – Artemon`;
  }, [title]);
  if (log.error) return <Failed error={log.error} retry={() => void log.refetch()} />;
  if (!log.data) return <Loading />;
  const entries = log.data.pages.flatMap((p) => p.entries);
  return (
    <>
      <Typography variant="h1">{title}</Typography>
      <Typography variant="sentence" sx={{ mb: 1 }}>
        {everybody
          ? "Sign-ins, imports, deletions and sharing of everybody here. Nobody can change or shorten it."
          : "Sign-ins in your name, refused ones too, and what you shared, deleted or changed of your account."}
      </Typography>
      <Table
        label={title}
        left={[0, 1, 2, 3, 4]}
        head={["When", ...(everybody ? ["Who"] : []), "What", "About", "From"]}
        rows={entries.map((e) => ({
          key: String(e.n),
          cells: [
            moment(e.at),
            ...(everybody ? [<b key="who">{e.name || (e.address ? "somebody" : "at the terminal")}</b>] : []),
            <span key="what" className={e.what.startsWith("a sign-in was refused") ? "clay strong" : undefined}>
              {e.what}
            </span>,
            <span key="about" style={WRAPPED}>
              {e.about}
            </span>,
            e.address,
          ],
        }))}
      />
      {log.hasNextPage && (
        <Button loading={log.isFetchingNextPage} onClick={() => void log.fetchNextPage()}>
          Older
        </Button>
      )}
    </>
  );
}

const WRAPPED = { whiteSpace: "normal", overflowWrap: "anywhere" } as const;
