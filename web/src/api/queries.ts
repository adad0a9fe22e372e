// Server data lives in the query cache only; one hook a question.
import {
  keepPreviousData,
  type QueryKey,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { confirmed } from "../headless/presence";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Rows } from "../components/table/model";
import {
  api,
  type Job,
  type OwnMeasure,
  type Page,
  type Schemas,
  type Screen,
  type ScreenList,
  type ScreenRow,
} from "./client";
import { onJobs } from "./events";
import { usePages } from "./pages";

/** The first word of the keys of what never changes. */
const AS_SAVED = "as-saved";
const steady = { staleTime: Number.POSITIVE_INFINITY };

export const useAbout = () => useQuery({ queryKey: ["about"], queryFn: api.about, ...steady });
export const useMeasures = () => useQuery({ queryKey: ["measures"], queryFn: api.measures, ...steady });
export const useFunctions = () => useQuery({ queryKey: ["functions"], queryFn: api.functions, ...steady });

/** What is one's own and waits to be repaired, or matched with a company. */
export const useRepairs = () => useQuery({ queryKey: ["repairs"], queryFn: api.repairs });

export const useReadyScreens = () => useQuery({ queryKey: ["ready"], queryFn: api.readyScreens, ...steady });

/** What screens ask most: the person's, then the ready-made ones. */
export const useUsedFormulas = () => useQuery({ queryKey: ["documents-used"], queryFn: api.usedFormulas });

/** A person's documents of a kind, by folder and name. */
export const useDocuments = (kind: Schemas["DocumentKind"]) =>
  useQuery({ queryKey: ["documents", kind], queryFn: () => api.documents(kind) });

export const useDocument = (id: string | null) =>
  useQuery({ queryKey: ["document", id], queryFn: () => api.document(id ?? ""), enabled: id !== null });

/** A version as it was saved: it stays as it is. */
export const useDocumentVersion = (id: string, version: number) =>
  useQuery({
    queryKey: [AS_SAVED, "document", id, version],
    queryFn: () => api.document(id, version),
    enabled: version > 0,
    ...steady,
  });

/** Changes documents; then lists and what is open are asked for anew. */
export function useDocumentsChange<A, R>(change: (asked: A) => Promise<R>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: () => client.invalidateQueries({ predicate: (q) => /^document/.test(String(q.queryKey[0])) }),
  });
}

export const useComparedScreens = (before: Screen | undefined, after: Screen | undefined) =>
  useQuery({
    queryKey: ["compared", before, after],
    queryFn: () => api.compareScreens(before ?? {}, after ?? {}),
    enabled: before !== undefined && after !== undefined,
    placeholderData: keepPreviousData,
  });

/** What a saved screen finds now, and what changed since its last run. */
export const useSavedRun = (id: string | null) =>
  useQuery({ queryKey: ["saved-run", id], queryFn: () => api.runSaved(id ?? ""), enabled: id !== null });

export const useScreenChanges = (screen: Screen, since: string | null) =>
  useQuery({
    queryKey: ["screen-changes", screen, since],
    queryFn: ({ signal }) => api.screenChanges(screen, since ?? "", signal),
    enabled: since !== null,
    placeholderData: keepPreviousData,
  });

/** Years before the date of a screen that are asked for. */
const YEARS_BACK = 10;

/** A screen on its day and on the same day of each of the ten years before, one after the other. */
export function useScreenYears(screen: Screen) {
  const client = useQueryClient();
  const [stopped, setStopped] = useState(false);
  const queryKey = ["screen-years", screen];
  const { data, error, hasNextPage, isFetching, fetchNextPage } = useInfiniteQuery({
    queryKey,
    queryFn: ({ pageParam, signal }) => api.screenYear(screen, pageParam, signal),
    initialPageParam: 0,
    // Before the first year without data there is none either.
    getNextPageParam: (last, _, back) => (last && back < YEARS_BACK ? back + 1 : undefined),
    staleTime: Number.POSITIVE_INFINITY,
  });
  useEffect(() => {
    if (hasNextPage && !isFetching && !stopped && !error) void fetchNextPage();
  }, [hasNextPage, isFetching, stopped, error, fetchNextPage]);
  return {
    years: (data?.pages ?? []).filter((year) => year !== null),
    of: YEARS_BACK + 1,
    error,
    running: !stopped && (isFetching || hasNextPage),
    stop: () => {
      setStopped(true);
      void client.cancelQueries({ queryKey });
    },
  };
}

export const useReadyColumns = () => useQuery({ queryKey: ["ready-columns"], queryFn: api.readyColumns, ...steady });

export const useGroups = (asOf?: string) =>
  useQuery({ queryKey: ["groups", asOf], queryFn: () => api.groups(asOf), ...steady });

export const useSearch = (text: string, asOf?: string) =>
  useQuery({
    queryKey: ["search", text, asOf],
    queryFn: () => api.search(text, asOf),
    enabled: text.trim() !== "",
    placeholderData: keepPreviousData,
  });

/** Companies of the dataset by a part of their name or symbol, those without prices too. */
export const useCompanyNames = (text: string) =>
  useQuery({
    queryKey: ["holdings", "names", text],
    queryFn: async ({ signal }) => (await api.holdings({ text, rows: 8 }, signal)).rows,
    enabled: text.trim() !== "",
    placeholderData: keepPreviousData,
  });

/** The counts of a screen, with the screen that they are of: while it is edited they are those of a moment ago. */
export const useScreen = (screen: Screen) =>
  useQuery({
    queryKey: ["screen", screen],
    queryFn: async ({ signal }) => ({ screen, answer: await api.screen(screen, signal) }),
    placeholderData: keepPreviousData,
  });

/** Tiles of the companies listed, as they come into view. */
export const useWall = (list: ScreenList, months: number) =>
  usePages(["wall", list, months], (page) => api.screenWall(list, months, page));

/** The companies listed as marks on a map. */
export const useScreenMap = (request: Schemas["MapRequest"]) =>
  useQuery({
    queryKey: ["map", request],
    queryFn: ({ signal }) => api.screenMap(request, signal),
    placeholderData: keepPreviousData,
  });

/** The medians of the columns over the companies listed, and over each group of them. */
export const useScreenMedians = (list: ScreenList) =>
  useQuery({
    queryKey: ["screen-medians", list],
    queryFn: ({ signal }) => api.screenMedians(list, signal),
    placeholderData: keepPreviousData,
  });

/** A company at a glance: asked for when somebody points at its name. */
export const useGlance = (symbol: string, asOf?: string) =>
  useQuery({ queryKey: ["glance", symbol, asOf], queryFn: () => api.glance(symbol, asOf) });

/** The companies listed, as they come into view; with their news where they are shown. */
export function useScreenRows(list: ScreenList, count: number, news = false): Rows<ScreenRow> {
  const pages = usePages(["screen-rows", list, news], (page) => api.screenRows(list, news, page));
  const { at, want, stale, total } = pages;
  const found = (list.text ?? "").trim() === "" ? count : (total ?? count);
  return useMemo(() => ({ count: found, at, want, stale }), [found, at, want, stale]);
}

/** The counts of a ranking; its rows are asked for as they come into view. */
export const useRank = (request: Schemas["RankRequest"]) =>
  useQuery({
    queryKey: ["rank", request],
    queryFn: ({ signal }) => api.rank(request, signal),
    placeholderData: keepPreviousData,
  });

export function useRankRows(request: Schemas["RankRequest"], count: number): Rows<Schemas["CandidateRow"]> {
  const { at, want, stale } = usePages(["rank-rows", request], ({ offset, rows, signal }) =>
    api.rank({ ...request, offset, rows }, signal),
  );
  return useMemo(() => ({ count, at, want, stale }), [count, at, want, stale]);
}

export const companyQuery = (symbol: string, asOf?: string) => ({
  queryKey: ["company", symbol, asOf],
  queryFn: () => api.company(symbol, asOf),
});

export const useCompany = (symbol: string, asOf?: string) => useQuery(companyQuery(symbol, asOf));

/** A valuation under other assumptions; nothing is kept. */
export const useValueWith = (symbol: string, request: Schemas["ValueRequest"], wanted = true) =>
  useQuery({
    queryKey: ["value-with", symbol, request],
    queryFn: () => api.valueWith(symbol, request),
    enabled: wanted,
    placeholderData: keepPreviousData,
  });

export const useAssumptionSets = () => useQuery({ queryKey: ["assumptions"], queryFn: api.assumptionSets, ...steady });

/** An earlier version of a set, which stays as it was saved; null asks for none. */
export const useAssumptionsVersion = (name: string, version: number | null, savedAt: string | undefined) =>
  useQuery({
    queryKey: [AS_SAVED, name, version, savedAt],
    queryFn: () => api.assumptionsVersion(name, version ?? 0),
    enabled: version !== null,
    ...steady,
  });

export const useQualityComponents = () =>
  useQuery({ queryKey: ["quality-components"], queryFn: api.qualityComponents, ...steady });

/** After a change of what is assumed every value is asked for anew. */
export function useAssuming<T>(change: (to: T) => Promise<unknown>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: () =>
      client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "jobs" && q.queryKey[0] !== AS_SAVED }),
  });
}

export const useExplanation = ({ formula, symbol }: { formula: string; symbol: string }, asOf?: string) =>
  useQuery({
    queryKey: ["explain", formula, symbol, asOf],
    queryFn: () => api.explain({ formula, symbol, as_of: asOf ?? null }),
  });

export const useStanding = ({ formula, symbol }: { formula: string; symbol: string }, asOf?: string) =>
  useQuery({
    queryKey: ["standing", formula, symbol, asOf],
    queryFn: () => api.standing({ formula, symbol, as_of: asOf ?? null }),
  });

export const useOwnMeasures = () => useQuery({ queryKey: ["own-measures"], queryFn: api.ownMeasures, ...steady });

/** After a change of one's own measures formulas that use them have other answers. */
export function useOwnMeasuresChange<T>(change: (to: T) => Promise<OwnMeasure[]>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: (all) => {
      client.setQueryData(["own-measures"], all);
      client.invalidateQueries({
        predicate: (q) => !["own-measures", "measures", "jobs"].includes(String(q.queryKey[0])),
      });
    },
  });
}

export const useDistribution = (formula: string | null, asOf?: string) =>
  useQuery({
    queryKey: ["distribution", formula, asOf],
    queryFn: () => api.distribution(formula ?? "", asOf),
    enabled: formula !== null,
    placeholderData: keepPreviousData,
  });

export const useCheck = (formula: string) =>
  useQuery({
    queryKey: ["check", formula],
    queryFn: () => api.checkFormula(formula),
    enabled: formula.trim() !== "",
    placeholderData: keepPreviousData,
  });

export const useAnswer = (formula: string | null, symbol: string, asOf?: string) =>
  useQuery({
    queryKey: ["evaluate", formula, symbol, asOf],
    queryFn: () => api.evaluate({ formulas: [formula ?? ""], symbols: [symbol], as_of: asOf ?? null }),
    enabled: formula !== null && symbol !== "",
    placeholderData: keepPreviousData,
  });

/** Copies of what is one's own, and what is damaged. */
export const useSafety = () => useQuery({ queryKey: ["safety"], queryFn: api.safety });

export function useCopyNow() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: api.copyNow,
    onSuccess: () => client.invalidateQueries({ queryKey: ["safety"] }),
  });
}

/** Everything of one's own is another afterwards. */
export function useRestore() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (copy: string) => confirmed(() => api.restoreCopy(copy)),
    onSuccess: () => client.invalidateQueries(),
  });
}

export const useData = () => useQuery({ queryKey: ["data"], queryFn: api.data });

/** The companies with what is there of each, as they come into view. */
export const useHoldings = (request: Omit<Schemas["HoldingsRequest"], "offset" | "rows">) =>
  useAllRows(["holdings", request], async ({ signal, ...page }) => {
    const { companies, rows } = await api.holdings({ ...request, ...page }, signal);
    return { rows, survivors: companies };
  });

/** Doubts about the data, of one check or all. */
export const useFindings = (check: string | null) =>
  useAllRows(["findings", check], async ({ signal, ...page }) => {
    const { findings, rows } = await api.findings({ check, ...page }, signal);
    return { rows, survivors: findings };
  });

/** Rows shown as coming until it is known how many there are. */
const COMING = 12;

/** Rows whose number is in the answer itself. */
function useAllRows<T>(key: QueryKey, fetch: (page: Page) => Promise<{ rows: T[]; survivors: number }>) {
  const { at, want, stale, total, error } = usePages(key, fetch);
  return {
    rows: useMemo((): Rows<T> => ({ count: total ?? COMING, at, want, stale }), [total, at, want, stale]),
    error,
  };
}

export const useFeed = () => useQuery({ queryKey: ["feed"], queryFn: api.feed });

export function useChooseFeed() {
  const client = useQueryClient();
  return useMutation({ mutationFn: api.chooseFeed, onSuccess: (state) => client.setQueryData(["feed"], state) });
}

/** Brings sessions of the simulated feed; then everything else is asked for anew. */
export function useNextSessions() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (sessions: number) => api.nextSessions(sessions),
    onSuccess: () => client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "jobs" }),
  });
}

/** The imports as they stand; when one has landed everything else is asked for anew. */
export function useJobs(): Job[] {
  const client = useQueryClient();
  const done = useRef<Set<string> | null>(null);
  useEffect(
    () =>
      onJobs((jobs) => {
        client.setQueryData(["jobs"], jobs);
        const ended = jobs.filter((j) => j.state !== "running").map((j) => j.id);
        const fresh = done.current !== null && ended.some((id) => !done.current?.has(id));
        done.current = new Set(ended);
        if (fresh) client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "jobs" });
      }),
    [client],
  );
  return useQuery({ queryKey: ["jobs"], queryFn: api.jobs, staleTime: Number.POSITIVE_INFINITY }).data ?? [];
}
