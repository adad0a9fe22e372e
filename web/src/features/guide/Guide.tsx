// The guide: every measure by word or id on the left, its page or the formula editor beside it.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useMemo, useRef, useState } from "react";
import { Outlet, Link as RouterLink, useLocation, useParams } from "react-router";
import type { Measure } from "../../api/client";
import { useMeasures, useOwnMeasures } from "../../api/queries";
import { NarrowDrawer, useNarrow } from "../../components/NarrowDrawer";
import { Failed, Loading } from "../../components/States";
import { useAddress } from "../../headless/asOf";
import { familyName } from "../../headless/families";
import { nearness } from "../../headless/finding";
import { tint } from "../../theme/theme";
import { PLACES } from "./places";

const WIDE = { gridTemplateColumns: "300px minmax(0, 1fr)" };
const NARROW = { gridTemplateColumns: "minmax(0, 1fr)", gridTemplateRows: "auto minmax(0, 1fr)" };

export function Guide() {
  const narrow = useNarrow();
  const measures = useMeasures();
  useEffect(() => {
    document.title = "Guide – Artemon";
  }, []);
  if (measures.error) return <Failed error={measures.error} retry={() => measures.refetch()} />;
  if (!measures.data) return <Loading rows={14} />;
  return (
    <Box sx={{ height: "100%", display: "grid", ...(narrow ? NARROW : WIDE) }}>
      <NarrowDrawer label="Contents" anchor="left" width={300}>
        <Contents measures={measures.data} />
      </NarrowDrawer>
      <Box sx={{ overflowY: "auto", px: 4, py: 2.5 }}>
        <Outlet />
      </Box>
    </Box>
  );
}

function Contents({ measures }: { measures: Measure[] }) {
  const [words, setWords] = useState("");
  const own = useOwnMeasures().data ?? [];
  const families = useMemo(() => {
    const groups = new Map<string, { id: string; label: string }[]>();
    for (const m of measures.filter((m) => nearness(m, words) !== null)) {
      const name = familyName(m.family);
      groups.set(name, [...(groups.get(name) ?? []), m]);
    }
    return [...groups];
  }, [measures, words]);
  const mine = own.filter((m) => nearness({ ...m, meaning: m.note ?? "" }, words) !== null);
  return (
    <Box
      component="nav"
      aria-label="Measures"
      sx={{ borderRight: `1px solid ${tint("hairline")}`, display: "flex", flexDirection: "column", minHeight: 0 }}
    >
      <Box sx={{ p: 1.5, pb: 1 }}>
        <TextField
          fullWidth
          placeholder={`Search ${measures.length} measures`}
          value={words}
          onChange={(e) => setWords(e.target.value)}
          slotProps={{ htmlInput: { "aria-label": "Search measures" } }}
        />
      </Box>
      <Box sx={{ overflowY: "auto", pb: 2 }}>
        <Entry to="/guide" label="Write a formula" id="" />
        {words.trim() === "" && <Pages />}
        {mine.length > 0 && <Group name="Your own" entries={mine} to={(id) => `/guide?edit=${id}`} />}
        {families.map(([name, entries]) => (
          <Group key={name} name={name} entries={entries} to={(id) => `/guide/${id}`} />
        ))}
        {families.length === 0 && mine.length === 0 && (
          <Typography variant="body2" color="textSecondary" sx={{ px: 2, py: 1 }}>
            No measure has these words in its name or meaning. You can write it yourself as a formula.
          </Typography>
        )}
      </Box>
    </Box>
  );
}

/** What is no measure. */
function Pages() {
  return (
    <>
      <Entry to="/guide/first-steps" label="First steps" id="" />
      <Entry to="/guide/language" label="The formula language" id="" />
      <Entry to="/guide/methods" label="Methods and sources" id="" />
      <Entry to="/guide/keys" label="Shortcuts" id="" />
      <Typography variant="h3" component="h2" color="textSecondary" sx={{ px: 2, pt: 1.5, pb: 0.25 }}>
        The places
      </Typography>
      {PLACES.map((p) => (
        <Entry key={p.id} to={`/guide/places/${p.id}`} label={p.title} id="" plain />
      ))}
    </>
  );
}

function Group({
  name,
  entries,
  to,
}: {
  name: string;
  entries: { id: string; label: string }[];
  to: (id: string) => string;
}) {
  return (
    <>
      <Typography variant="h3" component="h2" color="textSecondary" sx={{ px: 2, pt: 1.5, pb: 0.25 }}>
        {name}
      </Typography>
      {entries.map((m) => (
        <Entry key={m.id} to={to(m.id)} label={m.label} id={m.id} />
      ))}
    </>
  );
}

function Entry({ to, label, id, plain = false }: { to: string; label: string; id: string; plain?: boolean }) {
  const address = useAddress();
  const params = useParams();
  const { pathname } = useLocation();
  const row = useRef<HTMLAnchorElement>(null);
  const here = id === "" ? pathname === to : params.id === id;
  useEffect(() => {
    if (here) row.current?.scrollIntoView({ block: "nearest" });
  }, [here]);
  return (
    <Link
      ref={row}
      component={RouterLink}
      to={address(to)}
      underline="none"
      aria-current={here ? "page" : undefined}
      sx={{
        display: "flex",
        gap: 1,
        px: 2,
        py: 0.35,
        fontSize: 13,
        color: tint("ink"),
        bgcolor: here ? tint("brassWash") : undefined,
        "&:hover": { bgcolor: tint("tray") },
      }}
    >
      <span style={{ flexShrink: 0, fontWeight: id || plain ? 400 : 600 }}>{label}</span>
      <span style={{ color: tint("faint"), overflow: "hidden", textOverflow: "ellipsis" }}>{id}</span>
    </Link>
  );
}
