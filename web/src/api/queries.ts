// Server data lives in the query cache only; one hook a question.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type Schemas, type Screen } from "./client";

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
