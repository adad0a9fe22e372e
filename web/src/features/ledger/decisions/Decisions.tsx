// Decisions: which to look at again, what came of each, and the record of one's own judgement.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Schemas } from "../../../api/client";
import { useDecisions } from "../../../api/decisions";
import { Answered } from "../../../components/Answered";
import { Table } from "../../../components/Table";
import { useAddress } from "../../../headless/asOf";
import { day, percent, price, signed } from "../../../headless/format";
import { DecisionSheet } from "./DecisionSheet";
import { MyRecord } from "./MyRecord";
import { CHOICES } from "./words";

type Row = Schemas["DecisionRow"];

interface Props {
  asOf: string | undefined;
  index: string | null;
}

export function Decisions({ asOf, index }: Props) {
  const answer = useDecisions({ as_of: asOf ?? null, index, symbol: null });
  const [opened, open] = useState<string | null>(null);
  return (
    <Box sx={{ mt: 2 }}>
      <Answered answer={answer} rows={6}>
        {(page) => <Told page={page} open={open} />}
      </Answered>
      {opened && <DecisionSheet id={opened} asOf={asOf} index={index} close={() => open(null)} />}
    </Box>
  );
}

function Told({ page, open }: { page: Schemas["DecisionsPage"]; open: (id: string) => void }) {
  const due = page.decisions.filter((d) => d.due);
  if (page.decisions.length === 0) return <NothingYet />;
  return (
    <>
      <Box component="section" aria-label="To look at again">
        <Typography variant="h2">
          To look at again <span className="faint light small">{due.length > 0 && due.length}</span>
        </Typography>
        {due.length === 0 && (
          <Typography variant="body2" color="textSecondary" sx={{ py: 1 }}>
            {next(page.decisions)}
          </Typography>
        )}
        {due.map((d) => (
          <Box key={d.id} sx={{ display: "flex", alignItems: "baseline", gap: 1.5, py: 0.6, maxWidth: 900 }}>
            <Button variant="outlined" onClick={() => open(d.id)}>
              Look
            </Button>
            <Box sx={{ minWidth: 0 }}>
              <b>{d.name}</b> <span className="faint">since {day(d.review_on ?? "")}</span>
              {d.thesis && <div className="serif second">{d.thesis.split("\n")[0]}</div>}
            </Box>
          </Box>
        ))}
      </Box>
      <MyRecord page={page} />
      <Box component="section" aria-label="Decisions" sx={{ mt: 3 }}>
        <Typography variant="h2">
          Decisions <span className="faint light small">{page.decisions.length}</span>
        </Typography>
        <All rows={page.decisions} open={open} />
      </Box>
    </>
  );
}

/** "Nothing is due. The next is Ostrel on 3 Mar 2027." */
function next(all: Row[]): string {
  const ahead = all.filter((d) => d.review_on).sort((a, b) => ((a.review_on ?? "") < (b.review_on ?? "") ? -1 : 1))[0];
  return ahead ? `Nothing is due. The next is ${ahead.name} on ${day(ahead.review_on ?? "")}.` : "Nothing is due.";
}

function NothingYet() {
  return (
    <Typography variant="sentence" component="p" sx={{ maxWidth: 640, py: 1 }}>
      None yet. Say why when you give an order, or put a company away from its page: what you see then is kept with it,
      and later you see how good your judgement was.
    </Typography>
  );
}

function All({ rows, open }: { rows: Row[]; open: (id: string) => void }) {
  const address = useAddress();
  return (
    <Table
      label="Decisions"
      head={[
        "Company",
        "On",
        "Choice",
        "Thesis",
        "Sure",
        "Price then",
        "now",
        "Share since",
        "Index since",
        "So far",
        "From",
        "Look again",
        "Open",
      ]}
      left={[0, 1, 2, 3, 9, 10, 11]}
      rows={rows.map((d) => ({
        key: d.id,
        quiet: d.not_carried_out,
        cells: [
          d.symbol ? (
            <Link key="name" component={RouterLink} to={address(`/companies/${d.symbol}`)} sx={{ fontWeight: 600 }}>
              {d.name}
            </Link>
          ) : (
            <b key="name">{d.name}</b>
          ),
          day(d.decided_on),
          CHOICES[d.choice],
          <Box
            key="thesis"
            data-hint={d.thesis || undefined}
            sx={{ maxWidth: 220, overflow: "hidden", textOverflow: "ellipsis" }}
            className="serif"
          >
            {d.thesis.split("\n")[0]}
          </Box>,
          d.confidence == null ? "" : percent(d.confidence),
          d.price_then == null ? "–" : price(d.price_then),
          d.price_now == null ? "–" : price(d.price_now),
          d.share_since == null ? "" : <Moved key="share" x={d.share_since} />,
          d.index_since == null ? "" : signed(d.index_since),
          sofar(d),
          d.screen?.name ?? "",
          d.closed ? "closed" : d.review_on ? day(d.review_on) : "",
          <Button key="open" onClick={() => open(d.id)} aria-label={`Open the decision on ${d.name}`}>
            Open
          </Button>,
        ],
      }))}
    />
  );
}

const Moved = ({ x }: { x: number }) => <span className={x < 0 ? "clay" : "teal"}>{signed(x)}</span>;

/** "right so far", "wrong after three years", "not carried out". */
function sofar(d: Row): string {
  if (d.not_carried_out) return "not carried out";
  if (d.right == null) return "";
  return `${d.right ? "right" : "wrong"}${d.settled ? "" : " so far"}`;
}
