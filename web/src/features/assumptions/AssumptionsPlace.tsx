// Assumption sets: the shipped one and one's own, side by side, with what each makes of the market.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Snackbar from "@mui/material/Snackbar";
import Typography from "@mui/material/Typography";
import { useQueryStates } from "nuqs";
import { useEffect, useState } from "react";
import { type AssumptionSet, api } from "../../api/client";
import { useAssumptionSets, useAssumptionsVersion, useAssuming } from "../../api/queries";
import { Failed, Loading } from "../../components/States";
import { text, whole } from "../../headless/address";
import { tint } from "../../theme/theme";
import { Repairs } from "./Repairs";
import { SetForm } from "./SetForm";

const SHOWN = { set: text, version: whole };

export function AssumptionsPlace() {
  const sets = useAssumptionSets();
  const [{ set: chosen, version }, write] = useQueryStates(SHOWN);
  const [gone, setGone] = useState<AssumptionSet | null>(null);
  const show = (name: string | null) => void write({ set: name, version: null });
  const restore = useAssuming((set: AssumptionSet) => {
    const { name } = set.assumptions;
    return api.restoreAssumptions(name).then((sets) => (set.in_use ? api.adoptAssumptions(name) : sets));
  });
  useEffect(() => {
    document.title = "Assumptions – Artemon";
  }, []);
  if (sets.error) return <Failed error={sets.error} retry={() => sets.refetch()} />;
  if (!sets.data) return <Loading rows={12} />;
  const shown = sets.data.find((s) => s.assumptions.name === chosen) ?? sets.data.find((s) => s.in_use) ?? sets.data[0];
  return (
    <Box
      sx={{
        height: "100%",
        display: "grid",
        gridTemplateColumns: "220px minmax(0, 1fr)",
        gridTemplateRows: "auto minmax(0, 1fr)",
      }}
    >
      <Box sx={{ gridColumn: "1 / -1" }}>
        <Repairs />
      </Box>
      <SetList sets={sets.data} shown={shown} choose={show} />
      {shown && (
        <Shown
          key={shown.assumptions.name}
          set={shown}
          version={version}
          all={sets.data}
          saved={show}
          toVersion={(n) => void write({ version: n })}
          forgotten={() => {
            setGone(shown);
            show(null);
          }}
        />
      )}
      <Snackbar
        open={gone !== null}
        autoHideDuration={12000}
        onClose={(_, why) => why !== "clickaway" && setGone(null)}
        message={`${gone?.assumptions.name} deleted`}
        action={
          <Button
            color="inherit"
            onClick={() => {
              if (gone) restore.mutate(gone, { onSuccess: () => show(gone.assumptions.name) });
              setGone(null);
            }}
          >
            Undo
          </Button>
        }
      />
    </Box>
  );
}

interface ShownProps {
  set: AssumptionSet;
  /** Its number, where an earlier one is asked for. */
  version: number | null;
  all: AssumptionSet[];
  saved: (name: string) => void;
  toVersion: (version: number | null) => void;
  forgotten: () => void;
}

/** A set in its newest version, or in an earlier one. */
function Shown({ set, version, all, saved, toVersion, forgotten }: ShownProps) {
  const newest = set.assumptions.version;
  const wanted = version ?? newest;
  const earlier = wanted > 0 && wanted < newest ? wanted : null;
  const then = useAssumptionsVersion(set.assumptions.name, earlier, set.versions[wanted - 1]);
  if (then.error) return <Failed error={then.error} retry={() => then.refetch()} />;
  if (earlier !== null && !then.data) return <Loading rows={12} />;
  const assumptions = earlier === null ? set.assumptions : (then.data ?? set.assumptions);
  return (
    <SetForm
      key={assumptions.version}
      set={set}
      assumptions={assumptions}
      all={all}
      saved={saved}
      toVersion={(n) => toVersion(n === newest ? null : n)}
      forgotten={forgotten}
    />
  );
}

interface ListProps {
  sets: AssumptionSet[];
  shown: AssumptionSet | undefined;
  choose: (name: string) => void;
}

function SetList({ sets, shown, choose }: ListProps) {
  return (
    <Box
      component="nav"
      aria-label="Assumption sets"
      sx={{ borderRight: `1px solid ${tint("hairline")}`, p: 2, overflowY: "auto" }}
    >
      <Typography variant="h1" sx={{ mb: 1 }}>
        Assumptions
      </Typography>
      {sets.map((s) => (
        <Link
          key={s.assumptions.name}
          component="button"
          underline="none"
          aria-current={s === shown ? "page" : undefined}
          onClick={() => choose(s.assumptions.name)}
          sx={{
            display: "block",
            width: "100%",
            textAlign: "left",
            p: 0.75,
            borderRadius: 1,
            color: tint("ink"),
            bgcolor: s === shown ? tint("brassWash") : undefined,
            "&:hover": { bgcolor: tint("tray") },
          }}
        >
          <b className="anywhere">{s.assumptions.name}</b>
          <br />
          <span className="small second">
            {s.shipped ? "ships with Artemon" : `version ${s.assumptions.version}`}
            {s.in_use && " · in use"}
          </span>
        </Link>
      ))}
      <Typography variant="body2" color="textSecondary" sx={{ mt: 2 }}>
        Every value names the set it was made with. Change one and save it under a name of your own; each save is kept
        as a version.
      </Typography>
    </Box>
  );
}
