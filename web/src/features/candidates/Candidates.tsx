// Candidates: choose whom, move the margin, read the ranked list with the price that would do.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Slider from "@mui/material/Slider";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useEffect, useMemo } from "react";
import { useSearchParams } from "react-router";
import { api, type Schemas } from "../../api/client";
import { useAbout, useAssumptionSets, useRank, useReadyScreens } from "../../api/queries";
import { Failed, Loading } from "../../components/States";
import { useAddressState } from "../../headless/addressState";
import { useAsOf } from "../../headless/asOf";
import { fromAddress, readDraft } from "../../headless/screenState";
import { day, percent, plain } from "../../headless/format";
import { useKeys } from "../../headless/keys";
import { SERIF, tint } from "../../theme/theme";
import { Ranked } from "./Ranked";
import { USUAL_WEIGHTS, Weighing } from "./Weighing";
import { HowSure, Sectors } from "./Views";
import { Whom } from "./Whom";

// It carries the charts, which are large.
const QualityMap = lazy(() => import("./QualityMap"));

const LARGEST_MARGIN = 0.6;

export function Candidates() {
  const [params, setParams] = useSearchParams();
  const about = useAbout();
  const whom = params.get("whom") ?? "all";
  const [asked, setAsked] = useAddressState("margin");
  const margin = Number(asked ?? about.data?.margin ?? 0.25);
  const [least, setLeast] = useAddressState("quality");
  const quality = Number(least ?? about.data?.least_quality ?? 60);
  const [weighed, setWeighed] = useAddressState("weights");
  const weights = weighed ? weighed.split(",").map(Number) : USUAL_WEIGHTS;
  const counted = weights.join();
  const view = params.get("view") ?? "table";
  const beside = params.get("beside");
  const request = useRequest({ whom, margin, quality, counted, view, beside });
  const answer = useRank(request);
  const set = (to: Record<string, string | null>) =>
    setParams(
      (old) => {
        const next = new URLSearchParams(old);
        for (const [k, v] of Object.entries(to)) v === null ? next.delete(k) : next.set(k, v);
        return next;
      },
      { replace: true },
    );
  const setMargin = (m: number) => setAsked(String(Math.round(m * 1000) / 1000));
  useKeys({
    v: () => {
      const next = VIEWS[(VIEWS.findIndex((x) => x[0] === view) + 1) % VIEWS.length]?.[0] ?? "table";
      set({ view: next === "table" ? null : next });
    },
  });
  useEffect(() => {
    document.title = "Candidates – Artemon";
  }, []);
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column", px: 2.5, py: 1.5 }}>
      <Box
        sx={{
          display: "flex",
          flexWrap: "wrap",
          columnGap: 5,
          rowGap: 1,
          alignItems: "flex-start",
          pb: 1.5,
          borderBottom: `1px solid ${tint("hairline")}`,
        }}
      >
        <Box sx={{ minWidth: 300 }}>
          <Typography variant="h1">Candidates</Typography>
          <Whom whom={whom} symbols={params.get("symbols") ?? ""} choose={set} />
        </Box>
        <Asked
          label="Required margin of safety"
          id="margin"
          words={percent}
          value={margin}
          most={LARGEST_MARGIN}
          step={0.01}
          set={setMargin}
        />
        <Asked
          label="Minimum quality"
          id="quality"
          words={(q) => plain(q, 0)}
          value={quality}
          most={100}
          step={1}
          set={(q) => setLeast(String(q))}
        />
        <Box sx={{ pt: 0.25 }}>
          <Weighing weights={weights} choose={(w) => setWeighed(w.join(","))} />
        </Box>
        <Box sx={{ flex: 1 }} />
        <Typography variant="body2" sx={{ color: tint("second"), pt: 0.5, textAlign: "right" }}>
          {answer.data && (
            <>
              as of {day(answer.data.as_of)}
              <br />
              {answer.data.assumptions} assumptions
            </>
          )}
        </Typography>
      </Box>
      {answer.error ? (
        <Box>
          <Failed error={answer.error} retry={() => answer.refetch()} />
          {whom !== "all" && (
            <Button onClick={() => set({ whom: null, symbols: null })}>Rank all listed companies</Button>
          )}
        </Box>
      ) : answer.data ? (
        <>
          <Box sx={{ display: "flex", alignItems: "center", gap: 2, flexWrap: "wrap" }}>
            <Counts answer={answer.data} />
            <Box sx={{ flex: 1 }} />
            <Beside chosen={beside} choose={(b) => set({ beside: b })} />
            <ViewSwitch view={view} choose={(v) => set({ view: v === "table" ? null : v })} />
            <Button
              title="The first 200, with live formulas"
              onClick={() => api.exportCandidates({ ...request, rows: null })}
            >
              Export XLSX
            </Button>
          </Box>
          <View view={view} request={request} answer={answer.data} margin={margin} quality={quality} />
        </>
      ) : (
        <Loading rows={12} />
      )}
    </Box>
  );
}

interface ViewProps {
  view: string;
  request: Schemas["RankRequest"];
  answer: Schemas["RankAnswer"];
  margin: number;
  quality: number;
}

function View({ view, request, answer, margin, quality }: ViewProps) {
  if (view === "sectors") return <Sectors rows={answer.sectors} />;
  if (view === "sure") return <HowSure answer={answer} />;
  if (view !== "map") return <Ranked request={request} total={answer.ranked} against={answer.against ?? null} />;
  return (
    <Suspense fallback={<Loading rows={12} />}>
      <QualityMap rows={answer.rows} margin={margin} least={quality} />
    </Suspense>
  );
}

interface Choices {
  whom: string;
  margin: number;
  quality: number;
  /** The weights, joined. */
  counted: string;
  view: string;
  beside: string | null;
}

/** What is asked of the server for what was chosen. */
function useRequest({ whom, margin, quality, counted, view, beside }: Choices): Schemas["RankRequest"] {
  const [params] = useSearchParams();
  const [asOf] = useAsOf();
  const ready = useReadyScreens();
  return useMemo<Schemas["RankRequest"]>(() => {
    const [safety = 0, good = 0, promised = 0, insiders = 0] = counted.split(",").map(Number);
    const shared = {
      margin,
      least_quality: quality,
      weights: { margin_of_safety: safety, quality: good, expected_return: promised, insider_buying: insiders },
      as_of: asOf ?? null,
      rows: view === "map" ? 2000 : 0,
      sensitivity: view === "sure",
      against: beside,
    };
    if (whom.startsWith("index:")) return { ...shared, universe: { index: whom.slice("index:".length) } };
    if (whom === "pasted")
      return { ...shared, universe: { symbols: (params.get("symbols") ?? "").split(",").filter(Boolean) } };
    if (whom === "screen")
      return { ...shared, screen: { ...(fromAddress(params.get("screen")) ?? readDraft() ?? {}), as_of: null } };
    const shipped = ready.data?.find((r) => r.id === whom);
    return shipped ? { ...shared, screen: shipped.screen } : shared;
  }, [whom, margin, quality, counted, asOf, params, ready.data, view, beside]);
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
      inputProps={{ "aria-label": "Beside which assumption set" }}
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

const VIEWS: [string, string][] = [
  ["table", "Table"],
  ["map", "Map"],
  ["sectors", "Sectors"],
  ["sure", "How sure?"],
];

function ViewSwitch({ view, choose }: { view: string; choose: (view: string) => void }) {
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

interface AskedProps {
  label: string;
  id: string;
  words: (value: number) => string;
  value: number;
  most: number;
  step: number;
  set: (to: number) => void;
}

function Asked({ label, id, words, value, most, step, set }: AskedProps) {
  return (
    <Box sx={{ width: 210, pt: 0.5 }}>
      <Box sx={{ display: "flex", justifyContent: "space-between" }}>
        <Typography variant="body2" id={`${id}-label`}>
          {label}
        </Typography>
        <Typography variant="body2" sx={{ fontWeight: 600 }} data-testid={id === "margin" ? "margin" : "least-quality"}>
          {words(value)}
        </Typography>
      </Box>
      <Slider
        value={value}
        min={0}
        max={most}
        step={step}
        onChange={(_, v) => set(v as number)}
        aria-labelledby={`${id}-label`}
        getAriaValueText={words}
      />
    </Box>
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
          <span style={{ fontFamily: SERIF, fontSize: 22, fontWeight: 600 }}>{n}</span> {words}
        </Typography>
      ))}
    </Box>
  );
}
