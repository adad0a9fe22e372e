// Accounts, orders and what came of them.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { by, client, done, type Schemas, save, taken } from "./client";

export const useLedger = (body: Schemas["LedgerRequest"]) =>
  useQuery({
    queryKey: ["ledger", body],
    queryFn: ({ signal }) => taken(client.POST("/api/ledger", { body, ...by(signal) })),
    placeholderData: keepPreviousData,
  });

/** What an order would come to, as it is typed. */
export const useOrderSheet = (body: Schemas["OrderRequest"] | null) =>
  useQuery({
    queryKey: ["ledger", "sheet", body],
    queryFn: ({ signal }) =>
      taken(client.POST("/api/ledger/sheet", { body: body as Schemas["OrderRequest"], ...by(signal) })),
    enabled: body !== null,
    placeholderData: keepPreviousData,
  });

export const useFit = (body: Schemas["OrderRequest"], wanted: boolean) =>
  useQuery({
    queryKey: ["ledger", "fit", body],
    queryFn: ({ signal }) => taken(client.POST("/api/ledger/fit", { body, ...by(signal) })),
    enabled: wanted,
    placeholderData: keepPreviousData,
  });

export const useResults = (body: Schemas["LedgerRequest"]) =>
  useQuery({
    queryKey: ["ledger", "results", body],
    queryFn: ({ signal }) => taken(client.POST("/api/ledger/results", { body, ...by(signal) })),
    placeholderData: keepPreviousData,
  });

export const useTerms = () =>
  useQuery({ queryKey: ["ledger", "terms"], queryFn: () => taken(client.GET("/api/ledger/terms")) });

export const useStatementImports = () =>
  useQuery({ queryKey: ["ledger", "statements"], queryFn: () => taken(client.GET("/api/ledger/statements")) });

/** A statement held against the journal, or taken in. */
export function heldAgainst(file: File, request: Schemas["AccountStatementRequest"]) {
  const form = new FormData();
  form.append("request", JSON.stringify(request));
  form.append("file", file);
  // The form goes as it is; the description knows its parts by name alone.
  const as = { body: form as never, bodySerializer: (body: unknown) => body as FormData };
  return taken(client.POST("/api/ledger/statements", as));
}

const of = (id: string) => ({ params: { path: { id } } });

export const ledger = {
  open: (body: Schemas["NewAccount"]) => taken(client.POST("/api/ledger/accounts", { body })),
  rename: (id: string, name: string) => done(client.PUT("/api/ledger/accounts/{id}", { ...of(id), body: { name } })),
  remove: (id: string) => done(client.DELETE("/api/ledger/accounts/{id}", of(id))),
  enter: (id: string, body: Schemas["Entered"]) =>
    taken(client.POST("/api/ledger/accounts/{id}/entries", { ...of(id), body })),
  takeBack: (n: number) => done(client.DELETE("/api/ledger/entries/{n}", { params: { path: { n } } })),
  order: (body: Schemas["OrderRequest"]) => taken(client.POST("/api/ledger/orders", { body })),
  change: (order: string, body: Schemas["OrderChange"]) =>
    done(client.PUT("/api/ledger/orders/{order}", { params: { path: { order } }, body })),
  saveTerms: (body: Schemas["LedgerTerms"]) => done(client.PUT("/api/ledger/terms", { body })),
  undoStatement: (id: string) => done(client.DELETE("/api/ledger/statements/{id}", of(id))),
  file: (format: "csv" | "xlsx" | "json", as_of: string | undefined) =>
    save(
      format === "csv" ? "journal.csv" : `ledger.${format}`,
      taken(
        client.GET("/api/ledger/file", {
          params: { query: { format, ...(as_of && { as_of }) } },
          parseAs: "blob",
        }),
      ),
    ),
  cancel: (order: string) => done(client.DELETE("/api/ledger/orders/{order}", { params: { path: { order } } })),
};

/** Changes the ledger; then what shows it is asked for anew. */
export function useLedgerChange<R>() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (work: () => Promise<R>) => work(),
    onSuccess: () =>
      queries.invalidateQueries({ predicate: (q) => ["ledger", "alerts", "today"].includes(String(q.queryKey[0])) }),
  });
}
