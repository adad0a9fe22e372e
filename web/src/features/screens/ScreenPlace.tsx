// Screens: the blocks of criteria on the left, what is left of the companies on the right.
import Box from "@mui/material/Box";
import { useEffect, useMemo } from "react";
import type { Measure, Screen } from "../../api/client";
import { useMeasures, useScreen } from "../../api/queries";
import { NarrowDrawer, useNarrow } from "../../components/NarrowDrawer";
import { Failed, Loading } from "../../components/States";
import { useAsOf } from "../../headless/asOf";
import type { Edit } from "../../headless/screenState";
import { tint } from "../../theme/theme";
import { Criteria } from "./Criteria";
import { Narrowing } from "./Narrowing";
import { NearMisses } from "./NearMisses";
import { Results } from "./Results";
import { useEdited } from "./useEdited";

const NONE: Measure[] = [];

/** The button of the criteria above what is left. */
const NARROW = { gridTemplateColumns: "minmax(0, 1fr)", gridTemplateRows: "auto minmax(0, 1fr)" };

export function ScreenPlace() {
  const [screen, edit] = useEdited();
  return screen ? <Edited screen={screen} edit={edit} /> : <Loading />;
}

function Edited({ screen, edit }: { screen: Screen; edit: Edit }) {
  const [asOf] = useAsOf();
  const narrow = useNarrow();
  const measures = useMeasures();
  const asked = useMemo(() => (asOf ? { ...screen, as_of: asOf } : screen), [screen, asOf]);
  const answer = useScreen(asked);
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
          <Criteria screen={screen} edit={edit} answer={answer.data} measures={measures.data ?? NONE} />
        </Box>
      </NarrowDrawer>
      <Box sx={{ minHeight: 0, overflowY: "auto", px: 2.5, py: 1.5 }}>
        {answer.error ? (
          <Failed error={answer.error} retry={() => answer.refetch()} />
        ) : answer.data ? (
          <>
            <Narrowing screen={screen} answer={answer.data} />
            <Results screen={screen} edit={edit} answer={answer.data} measures={measures.data ?? NONE} />
            <NearMisses screen={screen} edit={edit} answer={answer.data} />
          </>
        ) : (
          <Loading rows={12} />
        )}
      </Box>
    </Box>
  );
}
