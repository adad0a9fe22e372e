// Finds companies, measures and screens, and does what can be done here: everything that the pointer can do.
import { useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { useMeasures, useOwnMeasures, useReadyScreens, useSearch } from "../../api/queries";
import { type Entry, FindField } from "../../components/find/FindField";
import { type Action, actionsNow, keysInWords, useActions } from "../../headless/actions";
import { useAddress, useAsOf } from "../../headless/asOf";
import { hasWords, nearest } from "../../headless/finding";

/** Of each kind at most. */
const MOST = 6;

export function SearchField() {
  const input = useRef<HTMLInputElement>(null);
  const [text, setText] = useState("");
  const [asOf] = useAsOf();
  // Those of the place where one was when the list was opened.
  const [actions, setActions] = useState(actionsNow);
  useActions([{ keys: "/|ctrl+k", label: "Find or do", run: () => input.current?.focus() }], "everywhere");
  const companies = useSearch(text, asOf);
  const kept = useKept(text);
  const go = useGo();
  const hits = text.trim() === "" ? [] : (companies.data ?? []);
  return (
    <search style={{ flex: "0 1 230px", minWidth: 120 }}>
      <FindField
        label="Find or do"
        placeholder="Find or do   /"
        input={input}
        text={text}
        setText={setText}
        opened={() => setActions(actionsNow())}
        entries={[
          ...hits.slice(0, MOST).map((c) => ofCompany(c, go)),
          ...ofActions("Here", actions.here, text),
          ...kept,
          ...ofActions("Everywhere", actions.everywhere, text),
        ]}
        none={companies.error?.message ?? "No company, measure, screen or action of this name"}
      />
    </search>
  );
}

function useGo(): (path: string) => void {
  const navigate = useNavigate();
  const address = useAddress();
  return (path) => void navigate(address(path));
}

const ofCompany = (c: Schemas["CompanyHit"], go: (path: string) => void): Entry => ({
  group: "Companies",
  id: `company ${c.symbol}`,
  label: c.name,
  hint: [c.symbol, c.sector, c.listed ? "" : "not listed"].filter(Boolean).join(" · "),
  run: () => go(`/companies/${c.symbol}`),
});

const ofActions = (group: string, actions: Action[], text: string): Entry[] =>
  actions.flatMap(({ label, keys, run }) =>
    label && hasWords(label, text)
      ? [{ group, id: `${group} ${label}`, label, hint: keys ? keysInWords(keys) : "", run }]
      : [],
  );

/** Screens and measures that have these words in their names or meanings. */
function useKept(text: string): Entry[] {
  const measures = useMeasures().data;
  const own = useOwnMeasures().data;
  const screens = useReadyScreens().data;
  const go = useGo();
  const known = useMemo(
    () => [
      ...(own ?? []).map((m) => ({ ...m, meaning: m.note ?? "", path: `/guide?edit=${m.id}` })),
      ...(measures ?? []).map((m) => ({ ...m, path: `/guide/${m.id}` })),
    ],
    [measures, own],
  );
  if (text.trim() === "") return [];
  const ofScreens = (screens ?? [])
    .filter((s) => hasWords(`${s.screen.name} ${s.reasoning}`, text))
    .map(({ id, screen }) => ({
      group: "Screens",
      id: `screen ${id}`,
      label: screen.name ?? id,
      run: () => go(`/screens?screen=${encodeURIComponent(JSON.stringify(screen))}`),
    }));
  const ofMeasures = nearest(known, text)
    .slice(0, MOST)
    .map((m) => ({ group: "Measures", id: `measure ${m.id}`, label: m.label, hint: m.id, run: () => go(m.path) }));
  return [...ofScreens, ...ofMeasures];
}
