// Server data lives in the query cache only; one hook a question.
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, type Job, onJobs, type Schemas, type Screen } from "./client";

const steady = { staleTime: Number.POSITIVE_INFINITY };

export const useAbout = () => useQuery({ queryKey: ["about"], queryFn: api.about, ...steady });
export const useMeasures = () => useQuery({ queryKey: ["measures"], queryFn: api.measures, ...steady });
export const useReadyScreens = () => useQuery({ queryKey: ["ready"], queryFn: api.readyScreens, ...steady });

export const useGroups = (asOf?: string) =>
  useQuery({ queryKey: ["groups", asOf], queryFn: () => api.groups(asOf), ...steady });

export const useSearch = (text: string, asOf?: string) =>
  useQuery({
    queryKey: ["search", text, asOf],
    queryFn: () => api.search(text, asOf),
    placeholderData: keepPreviousData,
  });

export const useScreen = (screen: Screen) =>
  useQuery({ queryKey: ["screen", screen], queryFn: () => api.screen(screen), placeholderData: keepPreviousData });

export const useRank = (request: Schemas["RankRequest"]) =>
  useQuery({ queryKey: ["rank", request], queryFn: () => api.rank(request), placeholderData: keepPreviousData });

export const useCompany = (symbol: string, asOf?: string) =>
  useQuery({ queryKey: ["company", symbol, asOf], queryFn: () => api.company(symbol, asOf) });

export const useData = () => useQuery({ queryKey: ["data"], queryFn: api.data });

export const useHoldings = (request: Schemas["HoldingsRequest"]) =>
  useQuery({
    queryKey: ["holdings", request],
    queryFn: () => api.holdings(request),
    placeholderData: keepPreviousData,
  });

export const useFindings = (request: Schemas["FindingsRequest"]) =>
  useQuery({
    queryKey: ["findings", request],
    queryFn: () => api.findings(request),
    placeholderData: keepPreviousData,
  });

/** The imports as they stand; when one has landed everything else is asked for anew. */
export function useJobs(): Job[] {
  const client = useQueryClient();
  const done = useRef<Set<number> | null>(null);
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
