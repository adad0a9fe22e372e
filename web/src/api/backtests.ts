// Backtests: asked for, followed while they run, opened.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { by, client, done, type Schemas, save, taken } from "./client";
import { onBacktests } from "./events";

export type Backtest = Schemas["Backtest"];
export type Entry = Schemas["BacktestEntry"];
export type Opened = Schemas["BacktestAnswer"];
export type Outcome = Schemas["BacktestOutcome"];
export type Running = Schemas["RunningBacktest"];

const RUNNING = ["backtests", "running"];
const of = (id: string) => ({ params: { path: { id } } });

const ASKED_AGAIN_MS = 60_000;

export const useBacktests = () =>
  useQuery({ queryKey: ["backtests", "list"], queryFn: () => taken(client.GET("/api/backtests")) });

export const useBacktest = (id: string) =>
  useQuery({
    queryKey: ["backtests", "one", id],
    queryFn: ({ signal }) => taken(client.GET("/api/backtests/{id}", { ...of(id), ...by(signal) })),
    staleTime: ASKED_AGAIN_MS,
  });

/** Those that are being worked on now; when one ends, what shows it is asked for anew. */
export function useRunning(): Running[] {
  const queries = useQueryClient();
  const running = useQuery({
    queryKey: RUNNING,
    queryFn: () => taken(client.GET("/api/backtests/running")),
  });
  useEffect(
    () =>
      onBacktests((now) => {
        const before = queries.getQueryData<Running[]>(RUNNING) ?? [];
        queries.setQueryData(RUNNING, now);
        const ended = before.some((b) => !now.some((n) => n.id === b.id));
        if (ended || (now.length === 0 && before.length === 0)) {
          void queries.invalidateQueries({
            predicate: (q) => q.queryKey[0] === "backtests" && q.queryKey[1] !== "running",
          });
        }
      }),
    [queries],
  );
  return running.data ?? [];
}

export const useHeldAt = (id: string, date: string) =>
  useQuery({
    queryKey: ["backtests", "held", id, date],
    queryFn: ({ signal }) =>
      taken(client.GET("/api/backtests/{id}/holdings", { params: { path: { id }, query: { date } }, ...by(signal) })),
    enabled: date !== "",
    placeholderData: keepPreviousData,
  });

/** What became of past values. */
export const useValuesRecord = () =>
  useQuery({ queryKey: ["backtests", "record"], queryFn: () => taken(client.GET("/api/values-record")) });

/** Fifths of the universe by a measure. */
export const useMeasureCheck = (asked: Schemas["ValueCheck"] | null) =>
  useQuery({
    queryKey: ["backtests", "measure", asked],
    queryFn: ({ signal }) =>
      taken(client.POST("/api/backtests/measure", { body: asked as Schemas["ValueCheck"], ...by(signal) })),
    enabled: asked !== null,
    placeholderData: keepPreviousData,
  });

export const backtests = {
  ask: (settings: Backtest, name = "") => taken(client.POST("/api/backtests", { body: { name, settings } })),
  proposed: (screen: Schemas["ScreenRef"], order?: string) =>
    taken(client.POST("/api/backtests/proposed", { body: { screen, by: order ?? null } })),
  rename: (id: string, name: string) => done(client.PUT("/api/backtests/{id}", { ...of(id), body: { name } })),
  remove: (id: string) => done(client.DELETE("/api/backtests/{id}", of(id))),
  restore: (id: string) => done(client.POST("/api/backtests/{id}/restore", of(id))),
  cancel: (id: string) => done(client.POST("/api/backtests/{id}/cancel", of(id))),
  askRecord: () => done(client.POST("/api/values-record")),
  giveUpRecord: () => done(client.DELETE("/api/values-record")),
  vary: (id: string) => taken(client.POST("/api/backtests/{id}/variants", of(id))),
  file: (id: string, name: string, format: "csv" | "xlsx" | "json") =>
    save(
      format === "csv" ? `${name} trades.csv` : `${name}.${format}`,
      taken(client.GET("/api/backtests/{id}/file", { params: { path: { id }, query: { format } }, parseAs: "blob" })),
    ),
};

/** Changes backtests; then what shows them is asked for anew. */
export function useBacktestsChange<R>() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (work: () => Promise<R>) => work(),
    onSuccess: () => queries.invalidateQueries({ predicate: (q) => q.queryKey[0] === "backtests" }),
  });
}
