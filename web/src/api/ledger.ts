// Accounts, orders and what came of them.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { by, client, done, type Schemas, taken } from "./client";

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

const of = (id: string) => ({ params: { path: { id } } });

export const ledger = {
  open: (body: Schemas["NewAccount"]) => taken(client.POST("/api/ledger/accounts", { body })),
  rename: (id: string, name: string) => done(client.PUT("/api/ledger/accounts/{id}", { ...of(id), body: { name } })),
  remove: (id: string) => done(client.DELETE("/api/ledger/accounts/{id}", of(id))),
  enter: (id: string, body: Schemas["Entered"]) =>
    taken(client.POST("/api/ledger/accounts/{id}/entries", { ...of(id), body })),
  takeBack: (n: number) => done(client.DELETE("/api/ledger/entries/{n}", { params: { path: { n } } })),
  order: (body: Schemas["OrderRequest"]) => taken(client.POST("/api/ledger/orders", { body })),
  cancel: (order: string) => done(client.DELETE("/api/ledger/orders/{order}", { params: { path: { order } } })),
};

/** Changes the ledger; then what shows it is asked for anew. */
export function useLedgerChange<R>() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (work: () => Promise<R>) => work(),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["ledger"] }),
  });
}
