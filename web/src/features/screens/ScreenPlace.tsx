// Screens: the blocks of criteria on the left, what is left of the companies on the right.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import visuallyHidden from "@mui/utils/visuallyHidden";
import { lazy, Suspense, useDeferredValue, useEffect, useMemo } from "react";
import { Link as RouterLink } from "react-router";
import type { Measure, Screen } from "../../api/client";
import { useMeasures, useSavedRun, useScreen, useScreenRows } from "../../api/queries";
import { NarrowDrawer, useNarrow } from "../../components/NarrowDrawer";
import { Empty, Failed, LoadingPage, LoadingTable } from "../../components/States";
import { useGroupBy } from "../../components/table/GroupBy";
import { useAside } from "../../components/table/layout";
import { useAddress, useAsOf } from "../../headless/asOf";
import { tint } from "../../theme/theme";
import { Criteria } from "./Criteria";
import { NEWS } from "./newsColumns";
import { Narrowing } from "./Narrowing";
import { NearMisses } from "./NearMisses";
import { Results } from "./Results";
import { type Edited, useEdited } from "./useEdited";

const OverTime = lazy(async () => ({ default: (await import("./OverTime")).OverTime }));

const NONE: Measure[] = [];

/** The button of the criteria above what is left. */
const NARROW = { gridTemplateColumns: "minmax(0, 1fr)", gridTemplateRows: "auto minmax(0, 1fr)" };

export function ScreenPlace() {
  const working = useEdited();
  if (!working) return <LoadingPage />;
  return "failed" in working ? <NotHere /> : <Place working={working} />;
}

/** An address of a screen that was deleted, or is somebody else's. */
function NotHere() {
  const address = useAddress();
  return (
    <Empty title="This screen is not kept here">
      It may have been deleted, or belong to somebody else.{" "}
      <Link component={RouterLink} to={address("/screens")}>
        Go on with the screen you worked on last
      </Link>
    </Empty>
  );
}

function Place({ working }: { working: Edited }) {
  const { screen, edit } = working;
  const [asOf] = useAsOf();
  const narrow = useNarrow();
  const measures = useMeasures();
  const asked = useMemo(() => (asOf ? { ...screen, as_of: asOf } : screen), [screen, asOf]);
  const answer = useScreen(asked);
  // What is left is drawn in slices beside the criteria, so that a dragged handle is never kept waiting.
  const shown = useDeferredValue(answer.data);
  // Asked for at the same time as the counts.
  const [group, setGroup] = useGroupBy();
  const among = useAmong(asked);
  const list = useMemo(() => ({ screen: among, group }), [among, group]);
  // A kept screen says what changed since its last run, and remembers this one.
  const run = useSavedRun(working.doc && !working.changed && !asOf ? working.doc : null);
  const lastRun = run.data?.changes?.since ?? null;
  const [news] = useAside("screens", NEWS);
  const rows = useScreenRows(list, shown?.answer.survivors ?? 0, news);
  useEffect(() => {
    document.title = `${screen.name} – Artemon`;
  }, [screen.name]);
  return (
    <Box
      sx={{
        height: "100%",
        display: "grid",
        ...(narrow ? NARROW : { gridTemplateColumns: "minmax(300px, 360px) minmax(0, 1fr)" }),
      }}
    >
      <NarrowDrawer label="Criteria" anchor="left" width={360}>
        <Box sx={{ borderRight: `1px solid ${tint("hairline")}`, overflowY: "auto", p: 2 }}>
          <Criteria working={working} answer={answer.data?.answer} measures={measures.data ?? NONE} />
        </Box>
      </NarrowDrawer>
      <Box sx={{ minHeight: 0, overflowY: "auto", px: 2.5, py: 1.5 }}>
        <Box component="h1" sx={visuallyHidden}>
          Screen: {screen.name}
        </Box>
        {answer.error ? (
          <Failed error={answer.error} retry={() => answer.refetch()} />
        ) : shown ? (
          <>
            <Narrowing {...shown} />
            <Results
              {...shown}
              list={list}
              rows={rows}
              setGroup={setGroup}
              edit={edit}
              measures={measures.data ?? NONE}
              since={run.data?.changes ?? null}
            />
            <NearMisses {...shown} edit={edit} />
            <Suspense>
              <OverTime screen={among} asOf={shown.answer.as_of} lastRun={lastRun} />
            </Suspense>
          </>
        ) : (
          <LoadingTable />
        )}
      </Box>
    </Box>
  );
}

/** A screen as its rows depend on it: not on its name, nor on notes. */
function useAmong({ as_of, universe, blocks, columns, sort, limit }: Screen): Screen {
  return useMemo(
    () => ({
      ...(as_of && { as_of }),
      ...(universe && { universe }),
      ...(blocks && { blocks }),
      ...(columns && { columns }),
      ...(sort && { sort }),
      ...(limit && { limit }),
    }),
    [as_of, universe, blocks, columns, sort, limit],
  );
}
