// Candidates: choose whom, move the margin, read the ranked list with the price that would do.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useEffect } from "react";
import { api, type Schemas } from "../../api/client";
import { useAssumptionSets, useRank } from "../../api/queries";
import { Failed, Loading, LoadingTable } from "../../components/States";
import { GroupBy } from "../../components/table/GroupBy";
import { useActions } from "../../headless/actions";
import { told } from "../../headless/notice";
import { tint } from "../../theme/theme";
import { Asking } from "./Asking";
import { type Chosen, useChoices, type View } from "./choices";
import { useTest } from "../backtests/start";
import { Ranked } from "./Ranked";
import { HowSure, Sectors } from "./Views";

// It carries the charts, which are large.
const QualityMap = lazy(() => import("./QualityMap"));

const VIEWS: [View, string][] = [
  ["table", "Table"],
  ["map", "Map"],
  ["sectors", "Sectors"],
  ["sure", "How sure?"],
];

export function Candidates() {
  const chosen = useChoices();
  const { choices, choose, request } = chosen;
  const answer = useRank(request);
  const save = () => void told(api.exportCandidates({ ...request, rows: null }));
  const next = VIEWS[(VIEWS.findIndex(([id]) => id === choices.view) + 1) % VIEWS.length]?.[0] ?? "table";
  const test = useTest();
  const inThePast = () => test.run(inRange(chosen), "margin_of_safety");
  useActions([
    { keys: "w", label: "Test this ranking in the past", run: inThePast },
    { keys: "v", label: "Change the view", run: () => choose({ view: next }) },
    ...VIEWS.map(([view, words]) => ({ label: `Show as: ${words}`, run: () => choose({ view }) })),
    { keys: "e", label: "Export the ranking as XLSX", run: save },
  ]);
  useEffect(() => {
    document.title = "Candidates – Artemon";
  }, []);
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column", overflowY: "auto", px: 2.5, py: 1.5 }}>
      <Asking choices={choices} choose={choose} answer={answer.data} />
      {answer.error ? (
        <Box>
          <Failed error={answer.error} retry={() => answer.refetch()} />
          {choices.whom !== "all" && (
            <Button onClick={() => choose({ whom: null, symbols: null })}>Rank all listed companies</Button>
          )}
        </Box>
      ) : answer.data ? (
        <>
          <Box sx={{ display: "flex", alignItems: "center", gap: 1, flexWrap: "wrap" }}>
            <Counts answer={answer.data} />
            <Box sx={{ flex: 1 }} />
            <Beside chosen={choices.beside} choose={(beside) => choose({ beside })} />
            {choices.view === "table" && <GroupBy group={choices.group} set={(group) => choose({ group })} />}
            <ViewSwitch view={choices.view} choose={(view) => choose({ view })} />
            <Button
              data-hint="Would buying what is in range have worked, and could it be luck?"
              onClick={inThePast}
              disabled={test.pending}
            >
              Backtest
            </Button>
            <Button title="The first 200, with live formulas" onClick={save}>
              Export XLSX
            </Button>
          </Box>
          {test.error && <Typography color="error">{test.error.message}</Typography>}
          <Answered chosen={chosen} answer={answer.data} />
        </>
      ) : (
        <LoadingTable rows={18} />
      )}
    </Box>
  );
}

/** The ranking as a screen: those in range, of whom one ranks. */
function inRange({ choices: { margin, quality }, request }: Chosen): Schemas["Screen"] {
  const of = request.screen ?? {};
  const asked = [
    { formula: "margin_of_safety", min: margin },
    { formula: "quality", min: quality },
  ];
  return {
    name: `In range${of.name ? `: ${of.name}` : ""}`,
    universe: request.universe ?? of.universe ?? {},
    blocks: [...(of.blocks ?? []), { need: "all", criteria: asked }],
  };
}

function Answered({ chosen: { choices, request }, answer }: { chosen: Chosen; answer: Schemas["RankAnswer"] }) {
  switch (choices.view) {
    case "sectors":
      return <Sectors rows={answer.sectors} />;
    case "sure":
      return <HowSure answer={answer} />;
    case "map":
      return (
        <Suspense fallback={<Loading rows={12} />}>
          <QualityMap rows={answer.rows} margin={choices.margin} least={choices.quality} />
        </Suspense>
      );
    default:
      return (
        <Ranked request={request} total={answer.ranked} medians={answer.medians} against={answer.against ?? null} />
      );
  }
}

/** Another assumption set, to show beside the one in use. */
function Beside({ chosen, choose }: { chosen: string | null; choose: (name: string | null) => void }) {
  const sets = useAssumptionSets().data ?? [];
  if (sets.length < 2) return null;
  return (
    <Select
      variant="standard"
      disableUnderline
      displayEmpty
      value={chosen ?? ""}
      inputProps={{ "aria-label": "Compare with which assumption set" }}
      sx={{ fontSize: 13 }}
      onChange={(e) => choose(e.target.value || null)}
    >
      <MenuItem value="">No comparison</MenuItem>
      {sets
        .filter((s) => !s.in_use)
        .map((s) => (
          <MenuItem key={s.assumptions.name} value={s.assumptions.name}>
            Compare with {s.assumptions.name}
          </MenuItem>
        ))}
    </Select>
  );
}

function ViewSwitch({ view, choose }: { view: View; choose: (view: View) => void }) {
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      value={view}
      aria-label="View"
      onChange={(_, v) => v && choose(v)}
      sx={{ "& button": { textTransform: "none", py: 0.25, px: 1.25, fontSize: 13 } }}
    >
      {VIEWS.map(([id, words]) => (
        <ToggleButton key={id} value={id}>
          {words}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}

function Counts({ answer }: { answer: Schemas["RankAnswer"] }) {
  const parts: [number, string, string][] = [
    [answer.in_range, "in range", tint("teal")],
    [answer.close, "close", tint("brass")],
    [answer.wait, "wait for a lower price", tint("second")],
    [answer.pass, "pass: not good enough", tint("clay")],
    [answer.cannot_value, "cannot be valued", tint("faint")],
  ];
  return (
    <Box sx={{ display: "flex", gap: 3, alignItems: "baseline", py: 1 }} aria-live="polite">
      {parts.map(([n, words, colour]) => (
        <Typography key={words} sx={{ color: colour }} data-testid={`count-${words.split(/\W/)[0]}`}>
          <Typography variant="figure">{n}</Typography> {words}
        </Typography>
      ))}
    </Box>
  );
}
