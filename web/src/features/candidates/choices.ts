// What is chosen on this page: kept in the address, and asked of the server.
import { parseAsString, parseAsStringLiteral, useQueryStates } from "nuqs";
import { useCallback, useMemo } from "react";
import type { Schemas } from "../../api/client";
import { useAbout, useReadyScreens } from "../../api/queries";
import { GROUPED_BY } from "../../components/table/GroupBy";
import { number, numbers, screenText, texts } from "../../headless/address";
import { useAsOf } from "../../headless/asOf";
import { readDraft } from "../../headless/screenState";
import { USUAL_WEIGHTS } from "./Weighing";

const VIEW_IDS = ["table", "map", "sectors", "sure"] as const;
export type View = (typeof VIEW_IDS)[number];

const ADDRESS = {
  whom: parseAsString.withDefault("all"),
  symbols: texts.withDefault([]),
  screen: screenText,
  margin: number,
  quality: number,
  weights: numbers.withDefault(USUAL_WEIGHTS),
  view: parseAsStringLiteral(VIEW_IDS).withDefault("table"),
  beside: parseAsString,
  group: GROUPED_BY,
};

/** How many marks the map shows. */
const MAPPED = 2000;

export interface Choices {
  whom: string;
  symbols: string[];
  margin: number;
  quality: number;
  weights: number[];
  view: View;
  beside: string | null;
  group: Schemas["Grouping"] | null;
}

export interface Chosen {
  choices: Choices;
  choose: (to: Partial<{ [K in keyof Choices]: Choices[K] | null }>) => void;
  request: Schemas["RankRequest"];
}

export function useChoices(): Chosen {
  const about = useAbout().data;
  const [held, write] = useQueryStates(ADDRESS);
  const margin = held.margin ?? about?.margin ?? 0.25;
  const quality = held.quality ?? about?.least_quality ?? 60;
  const choices = { ...held, margin, quality };
  const choose = useCallback<Chosen["choose"]>((to) => void write(to), [write]);
  return { choices, choose, request: useRequest({ ...choices, screen: held.screen }) };
}

/** What is asked of the server for what was chosen. */
function useRequest(c: Choices & { screen: Schemas["Screen"] | null }): Schemas["RankRequest"] {
  const { whom, symbols, screen, margin, quality, weights, view, beside, group } = c;
  const [asOf] = useAsOf();
  const ready = useReadyScreens();
  return useMemo<Schemas["RankRequest"]>(() => {
    const [safety = 0, good = 0, promised = 0, insiders = 0] = weights;
    const shared = {
      margin,
      least_quality: quality,
      weights: { margin_of_safety: safety, quality: good, expected_return: promised, insider_buying: insiders },
      as_of: asOf ?? null,
      rows: view === "map" ? MAPPED : 0,
      sensitivity: view === "sure",
      against: beside,
      group: view === "table" ? group : null,
    };
    if (whom.startsWith("index:")) return { ...shared, universe: { index: whom.slice("index:".length) } };
    if (whom.startsWith("list:")) return { ...shared, universe: { list: whom.slice("list:".length) } };
    if (whom === "pasted") return { ...shared, universe: { symbols } };
    if (whom === "screen") return { ...shared, screen: { ...(screen ?? readDraft() ?? {}), as_of: null } };
    const shipped = ready.data?.find((r) => r.id === whom);
    return shipped ? { ...shared, screen: shipped.screen } : shared;
  }, [whom, symbols, screen, margin, quality, weights, asOf, ready.data, view, beside, group]);
}
