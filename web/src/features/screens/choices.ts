// What criteria and columns are picked from: measures, one's own, and places in the own history.
import { useMemo } from "react";
import type { Measure, OwnMeasure, Schemas } from "../../api/client";
import { useOwnMeasures, useUsedFormulas } from "../../api/queries";
import { familyName } from "../../headless/families";
import { type Findable, nearest } from "../../headless/finding";

/** A formula that can be picked; `id` is what is written. */
export interface Choice extends Findable {
  group: string;
}

/** All of them, those used most first. */
export function useChoices(measures: Measure[]): Choice[] {
  const own = useOwnMeasures().data;
  const used = useUsedFormulas().data;
  return useMemo(() => {
    const all = choices(measures, own ?? []);
    return [...usedMost(used ?? [], all), ...all];
  }, [measures, own, used]);
}

/** How many used ones come before the families. */
const USED = 8;

function usedMost(used: Schemas["UsedFormula"][], all: Choice[]): Choice[] {
  const known = new Map(all.map((one) => [one.id, one]));
  return used.slice(0, USED).map(({ formula, label, screens }) => ({
    ...(known.get(formula) ?? { label, meaning: "" }),
    id: formula,
    group: screens > 0 ? "Used most in your screens" : "Used most in ready-made screens",
  }));
}

/** Every measure, and for the multiples and margins also their place in the own ten years. */
function choices(measures: Measure[], mine: OwnMeasure[]): Choice[] {
  const ranked = measures.filter(
    (m) =>
      m.params.length === 0 &&
      (m.family === "multiples" || m.unit === "percent") &&
      m.family !== "value" &&
      m.family !== "insiders",
  );
  return [
    ...mine.map((m) => ({ id: m.id, label: m.label, meaning: m.note || m.formula, group: "Your own" })),
    ...measures.map((m) => ({ ...m, id: m.example, group: familyName(m.family) })),
    ...ranked.map((m) => ({
      id: `own_rank(${m.id}, 10y)`,
      label: `${m.label} in its own 10 years`,
      meaning: "0 is the lowest ever, 100 the highest.",
      synonyms: m.synonyms,
      group: "Against own history",
    })),
  ];
}

/** Most that are offered for what was typed. */
const MOST = 40;

/** What was typed finds, the nearest first; each once, since those used most are among the families too. */
export function found(all: Choice[], words: string): Choice[] {
  const seen = new Set<string>();
  return nearest(all, words)
    .filter(({ id }) => !seen.has(id) && seen.add(id))
    .slice(0, MOST);
}
