// The lists, shown wherever one is while companies are dragged.
import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useLocation } from "react-router";
import type { Schemas } from "../../api/client";
import { useLists } from "../../api/following";
import { type Dragged, symbolsOf, useCompanyDrop, useDragged } from "../../headless/dragged";
import { useListing } from "../../headless/listing";
import { refused } from "../../headless/notice";
import { tint } from "../../theme/theme";
import { companies, useListWork } from "./useListWork";

type Entry = Schemas["ListEntry"];

export function DropDock() {
  const dragged = useDragged((s) => s.now);
  // Among the lists one drops on their names.
  const { pathname } = useLocation();
  const work = useListWork(refused);
  const put = (list: Entry, what: Dragged) =>
    void work.add(list.id, list.name, symbolsOf(what), what.found).catch(refused);
  return <>{dragged && !pathname.startsWith("/lists") && <Targets dragged={dragged} put={put} />}</>;
}

interface Props {
  dragged: Dragged;
  put: (list: Entry, what: Dragged) => void;
}

function Targets({ dragged, put }: Props) {
  const all = useLists().data ?? [];
  const ask = useListing((s) => s.ask);
  const [first] = dragged.companies;
  const who = dragged.companies.length === 1 && first ? first.name : companies(dragged.companies.length);
  const has = (l: Entry) => symbolsOf(dragged).every((s) => l.symbols.includes(s));
  return (
    <Paper elevation={8} sx={DOCK} role="group" aria-label="Lists to drop on">
      <Typography variant="body2" color="textSecondary" noWrap sx={{ mb: 0.75 }}>
        Drop <b className="ink">{who}</b> on a list
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, maxHeight: 156, overflowY: "auto" }}>
        {all.map((l) => (
          <Target key={l.id} name={l.name} after={has(l) ? "✓" : l.symbols.length} take={(what) => put(l, what)} />
        ))}
        <Target name="Another list…" take={(what) => ask(what.companies, what.found)} />
      </Box>
    </Paper>
  );
}

interface TargetProps {
  name: string;
  /** How many are on it, or that these are. */
  after?: number | string;
  take: (what: Dragged) => void;
}

function Target({ name, after, take }: TargetProps) {
  const { over, onto } = useCompanyDrop(take);
  return (
    <Box {...onto} data-testid="drop-on" sx={over ? { ...TARGET, ...OVER } : TARGET}>
      <span>{name}</span>
      <span className="faint light"> {after}</span>
    </Box>
  );
}

const DOCK = {
  position: "fixed",
  left: "50%",
  bottom: 52,
  transform: "translateX(-50%)",
  zIndex: "modal",
  width: "min(720px, calc(100vw - 32px))",
  p: 1.5,
  border: `1px solid ${tint("brass")}`,
} as const;

const TARGET = {
  px: 1.5,
  py: 1,
  maxWidth: 220,
  overflow: "hidden",
  textOverflow: "ellipsis",
  whiteSpace: "nowrap",
  fontSize: 14,
  fontWeight: 500,
  border: `1px dashed ${tint("hairline")}`,
  borderRadius: 1,
};

const OVER = { borderColor: tint("brass"), bgcolor: tint("brassWash") };
