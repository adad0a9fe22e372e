// The dataset: what is loaded, what is doubtful, what came in; bringing data in and taking it out.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { parseAsStringLiteral, useQueryState } from "nuqs";
import { useEffect } from "react";
import { useOwner } from "../../api/people";
import { useData } from "../../api/queries";
import { NarrowDrawer, useNarrow } from "../../components/NarrowDrawer";
import { Failed, Loading } from "../../components/States";
import { ViewTabs } from "../../components/ViewTabs";
import { STEP } from "../../headless/address";
import { plain } from "../../headless/format";
import { tint } from "../../theme/theme";
import { Copies } from "./Copies";
import { Coverage } from "./Coverage";
import { Export } from "./Export";
import { Feed } from "./Feed";
import { FindingsList } from "./FindingsList";
import { FirstData, isComplete } from "./FirstData";
import { Holdings } from "./Holdings";
import { Imports } from "./Imports";

const VIEW = parseAsStringLiteral(["companies", "findings", "first", "copies"])
  .withDefault("companies")
  .withOptions(STEP);

const WIDE = { gridTemplateColumns: "minmax(0, 1fr) 372px" };
const NARROW = { gridTemplateColumns: "minmax(0, 1fr)", gridTemplateRows: "auto minmax(0, 1fr)" };

export function DataPlace() {
  const data = useData();
  const narrow = useNarrow();
  const owner = useOwner();
  const [view, show] = useQueryState("view", VIEW);
  useEffect(() => {
    document.title = "Data – Artemon";
  }, []);
  if (data.error) return <Failed error={data.error} retry={() => data.refetch()} />;
  if (!data.data) return <Loading rows={14} />;
  const { first } = data.data;
  // Where nothing is, the way there is what matters.
  const shown = view === "companies" && first.listed + first.with_statements === 0 ? "first" : view;
  const doubts = data.data.findings.reduce((sum, c) => sum + c.findings, 0);
  return (
    <Box sx={{ height: "100%", display: "grid", ...(narrow ? NARROW : WIDE) }}>
      <NarrowDrawer label="Import and export" anchor="right" width={372}>
        <Box sx={{ order: 1, borderLeft: `1px solid ${tint("hairline")}`, px: 2, py: 1.5, overflowY: "auto" }}>
          {owner && <Feed />}
          {owner && <Imports history={data.data.imports} />}
          {!owner && (
            <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>
              The data is everybody's. Owners of this server bring it and keep its copies.
            </Typography>
          )}
          <Export tables={data.data.tables} />
        </Box>
      </NarrowDrawer>
      <Box sx={{ display: "flex", flexDirection: "column", minHeight: 0, overflowY: "auto", px: 2.5, py: 1.5 }}>
        <Box sx={{ display: "flex", alignItems: "baseline", gap: 2 }}>
          <Typography variant="h1">{data.data.name}</Typography>
          {data.data.folder !== "" && (
            <Typography variant="body2" color="textSecondary" title={data.data.folder}>
              in your data folder
            </Typography>
          )}
        </Box>
        {data.data.damaged > 0 && (
          <Typography role="status" className="clay">
            {data.data.damaged === 1
              ? "One company, currency or index is"
              : `${plain(data.data.damaged, 0)} companies, currencies or indexes are`}{" "}
            damaged on the disk and set aside: see under Kept safe. Importing them again replaces them.
          </Typography>
        )}
        <Coverage tables={data.data.tables} />
        <ViewTabs
          label="What to list"
          views={[
            { id: "companies", label: "Companies" },
            { id: "findings", label: <Doubts n={doubts} /> },
            { id: "first", label: isComplete(first) ? "First data" : <Incomplete /> },
            ...(owner ? [{ id: "copies" as const, label: "Kept safe" }] : []),
          ]}
          view={shown}
          choose={(v) => void show(v)}
        />
        {shown === "companies" && <Holdings />}
        {shown === "first" && <FirstData first={first} />}
        {view === "findings" && <FindingsList counts={data.data.findings} />}
        {view === "copies" && owner && <Copies />}
      </Box>
    </Box>
  );
}

/** The way to a screened market, where something of it is missing. */
function Incomplete() {
  return (
    <>
      First data<span className="light clay">&nbsp;incomplete</span>
    </>
  );
}

function Doubts({ n }: { n: number }) {
  return (
    <>
      Doubts<span className="light second">&nbsp;{plain(n, 0)}</span>
    </>
  );
}
