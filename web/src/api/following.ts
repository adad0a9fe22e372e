// What follows a person from day to day: Today, lists, alerts, messages. One hook a question.
import { keepPreviousData, type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { by, client, done, type Schemas, save, taken } from "./client";
import { onNews } from "./events";

type TodayRequest = Schemas["TodayRequest"];

const again = (queries: QueryClient, ...words: string[]) =>
  queries.invalidateQueries({ predicate: (q) => words.includes(String(q.queryKey[0])) });

/** Looking is said once a visit to the page, and answers since when things are new. */
export const useVisit = () =>
  useQuery({
    queryKey: ["visit"],
    queryFn: () => taken(client.POST("/api/today/visit")),
    // A page that stays open overnight looks again in the morning.
    staleTime: 30 * 60_000,
    refetchOnWindowFocus: true,
  });

/** The person has seen all there is. */
export function useSeenAll() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => taken(client.POST("/api/today/seen")),
    onSuccess: (visit) => {
      queries.setQueryData(["visit"], visit);
      return again(queries, "today");
    },
  });
}

export const useToday = (request: TodayRequest, wanted: boolean) =>
  useQuery({
    queryKey: ["today", request],
    queryFn: ({ signal }) => taken(client.POST("/api/today", { body: request, ...by(signal) })),
    enabled: wanted,
    placeholderData: keepPreviousData,
  });

/** The market's months come a few at a time: it is asked again until all are there. */
export const useGauge = (asOf: string | undefined) =>
  useQuery({
    queryKey: ["gauge", asOf],
    queryFn: () => taken(client.GET("/api/today/gauge", { params: { query: { as_of: asOf ?? null } } })),
    refetchInterval: (q) => ((q.state.data?.left ?? 0) > 0 ? 200 : false),
    placeholderData: keepPreviousData,
  });

export const useTrades = (request: Schemas["TradesRequest"]) =>
  useQuery({
    queryKey: ["trades", request],
    queryFn: ({ signal }) => taken(client.POST("/api/today/trades", { body: request, ...by(signal) })),
    placeholderData: keepPreviousData,
  });

export const useLayout = () =>
  useQuery({
    queryKey: ["layout"],
    queryFn: () => taken(client.GET("/api/today/layout")),
    staleTime: Number.POSITIVE_INFINITY,
  });

export function useSaveLayout() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (layout: Schemas["TodayLayout"]) => {
      queries.setQueryData(["layout"], layout);
      return done(client.PUT("/api/today/layout", { body: layout }));
    },
  });
}

/** Puts lines away or takes them back. */
export function usePutAway() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (lines: Schemas["PutLine"][]) => done(client.PUT("/api/today/away", { body: { lines } })),
    onSuccess: () => again(queries, "today"),
  });
}

export const useLists = () => useQuery({ queryKey: ["lists"], queryFn: () => taken(client.GET("/api/lists")) });

export const useListRows = (id: string | null, body: Schemas["ListRowsRequest"]) =>
  useQuery({
    queryKey: ["list-rows", id, body],
    queryFn: ({ signal }) =>
      taken(client.POST("/api/lists/{id}/rows", { params: { path: { id: id ?? "" } }, body, ...by(signal) })),
    enabled: id !== null,
    placeholderData: keepPreviousData,
  });

export const useCompanyLists = (symbol: string, as_of?: string) =>
  useQuery({
    queryKey: ["company-lists", symbol, as_of],
    queryFn: () =>
      taken(
        client.GET("/api/companies/{symbol}/lists", { params: { path: { symbol }, query: { as_of: as_of ?? null } } }),
      ),
  });

/** What a text names, as it is typed. */
export const useMatched = (text: string) =>
  useQuery({
    queryKey: ["matched", text],
    queryFn: () => taken(client.POST("/api/lists/match", { body: { text } })),
    enabled: text.trim() !== "",
    placeholderData: keepPreviousData,
  });

export const lists = {
  add: (id: string, body: Schemas["AddMembers"]) =>
    taken(client.POST("/api/lists/{id}/members", { params: { path: { id } }, body })),
  remove: (id: string, symbols: string[]) =>
    taken(client.DELETE("/api/lists/{id}/members", { params: { path: { id } }, body: { symbols } })),
  restore: (id: string, body: Schemas["RestoreMembers"]) =>
    taken(client.POST("/api/lists/{id}/members/restore", { params: { path: { id } }, body })),
  move: (body: Schemas["MoveMembers"]) => taken(client.POST("/api/lists/move", { body })),
  order: (id: string, symbols: string[]) =>
    done(client.PUT("/api/lists/{id}/order", { params: { path: { id } }, body: { symbols } })),
  say: (id: string, symbol: string, body: Schemas["MemberOwn"]) =>
    done(client.PUT("/api/lists/{id}/members/{symbol}", { params: { path: { id, symbol } }, body })),
  judge: (symbol: string, body: Schemas["OwnSoundness"]) =>
    done(client.PUT("/api/companies/{symbol}/soundness", { params: { path: { symbol } }, body })),
  download: (id: string, name: string, format: "csv" | "xlsx") =>
    save(
      `${name}.${format}`,
      taken(client.GET("/api/lists/{id}/file", { params: { path: { id }, query: { format } }, parseAs: "blob" })),
    ),
};

/** Changes a list; then what shows lists is asked for anew. */
export function useListChange<A, R>(change: (asked: A) => Promise<R>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: () => again(queries, "lists", "list-rows", "company-lists", "today", "documents", "document", "alerts"),
  });
}

export const useAlerts = () => useQuery({ queryKey: ["alerts"], queryFn: () => taken(client.GET("/api/alerts")) });

export const useUnseen = () =>
  useQuery({ queryKey: ["unseen"], queryFn: () => taken(client.GET("/api/alerts/unseen")) });

export function useSee() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => done(client.DELETE("/api/alerts/unseen")),
    onSuccess: () => queries.setQueryData(["unseen"], 0),
  });
}

/** When an alert would have said something; none while it is not meant yet. */
export const useAlertPreview = (body: Schemas["AlertBody"] | null) =>
  useQuery({
    queryKey: ["alert-preview", body],
    queryFn: ({ signal }) =>
      taken(client.POST("/api/alerts/preview", { body: body as Schemas["AlertBody"], ...by(signal) })),
    enabled: body !== null,
    placeholderData: keepPreviousData,
  });

export const useMailSettings = () =>
  useQuery({ queryKey: ["mail", "settings"], queryFn: () => taken(client.GET("/api/mail/settings")) });

export const useOutbox = () => useQuery({ queryKey: ["mail"], queryFn: () => taken(client.GET("/api/mail")) });

export const useDigest = (settings: Schemas["DigestSettings"] | null) =>
  useQuery({
    queryKey: ["digest", settings],
    queryFn: () => taken(client.POST("/api/mail/digest", { body: settings as Schemas["DigestSettings"] })),
    enabled: settings !== null,
  });

export const mail = {
  save: (body: Schemas["MailSettings"]) => done(client.PUT("/api/mail/settings", { body })),
  test: (body: Schemas["MailSettings"]) => done(client.POST("/api/mail/test", { body })),
  again: () => taken(client.POST("/api/mail/again")),
  download: (id: string) =>
    save("message.eml", taken(client.GET("/api/mail/{id}/file", { params: { path: { id } }, parseAs: "blob" }))),
};

/** Changes how messages reach the person, or sends them; then they are asked for anew. */
export function useMailChange<A, R>(change: (asked: A) => Promise<R>) {
  const queries = useQueryClient();
  return useMutation({ mutationFn: change, onSuccess: () => again(queries, "mail") });
}

export const useAddresses = () =>
  useQuery({ queryKey: ["addresses"], queryFn: () => taken(client.GET("/api/addresses")) });

export function useRenewAddress() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (purpose: string) => taken(client.POST("/api/addresses", { body: { purpose } })),
    onSuccess: () => again(queries, "addresses"),
  });
}

export const downloadCalendar = () => save("artemon.ics", taken(client.GET("/api/calendar.ics", { parseAs: "blob" })));

/** When other data has come, everything that depends on it is asked for anew, in every open page. */
export function useNews() {
  const queries = useQueryClient();
  useEffect(
    () =>
      onNews(() => {
        void queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "jobs" && q.queryKey[0] !== "visit" });
      }),
    [queries],
  );
}
