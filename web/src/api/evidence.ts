// What the page of a company shows beside its first answer, a question each: asked when it comes into view.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { by, client, type Schemas, save, taken } from "./client";

const known = (symbol: string, as_of?: string) => ({ path: { symbol }, query: { as_of: as_of ?? null } });

export const usePeers = (symbol: string, asOf?: string) =>
  useQuery({
    queryKey: ["peers", symbol, asOf],
    queryFn: () => taken(client.GET("/api/companies/{symbol}/peers", { params: known(symbol, asOf) })),
  });

/** A measure over the company's own years. */
export const useMultiplePath = (symbol: string, body: Schemas["MultipleRequest"]) =>
  useQuery({
    queryKey: ["multiples", symbol, body],
    queryFn: ({ signal }) =>
      taken(client.POST("/api/companies/{symbol}/multiples", { params: { path: { symbol } }, body, ...by(signal) })),
    placeholderData: keepPreviousData,
  });

/** A statement of a company as a table. */
export const useStatement = (symbol: string, body: Schemas["StatementRequest"]) =>
  useQuery({
    queryKey: ["statement", symbol, body],
    queryFn: ({ signal }) =>
      taken(client.POST("/api/companies/{symbol}/statement", { params: { path: { symbol } }, body, ...by(signal) })),
    placeholderData: keepPreviousData,
  });

export const useSolvency = (symbol: string, asOf?: string) =>
  useQuery({
    queryKey: ["solvency", symbol, asOf],
    queryFn: () => taken(client.GET("/api/companies/{symbol}/solvency", { params: known(symbol, asOf) })),
  });

export const useCash = (symbol: string, asOf?: string) =>
  useQuery({
    queryKey: ["cash", symbol, asOf],
    queryFn: () => taken(client.GET("/api/companies/{symbol}/cash", { params: known(symbol, asOf) })),
  });

export const useOwners = (symbol: string, asOf?: string) =>
  useQuery({
    queryKey: ["owners", symbol, asOf],
    queryFn: () => taken(client.GET("/api/companies/{symbol}/owners", { params: known(symbol, asOf) })),
  });

/** What the price did after insiders had bought. */
export const useAfterPurchases = (symbol: string, asOf: string | undefined) =>
  useQuery({
    queryKey: ["after-purchases", symbol, asOf],
    queryFn: () => taken(client.GET("/api/companies/{symbol}/after-purchases", { params: known(symbol, asOf) })),
  });

export const useQuarters = (symbol: string, body: Schemas["QuartersRequest"]) =>
  useQuery({
    queryKey: ["quarters", symbol, body],
    queryFn: () => taken(client.POST("/api/companies/{symbol}/quarters", { params: { path: { symbol } }, body })),
    placeholderData: keepPreviousData,
  });

/** Why the value changed since a day; since the newest filing when none is given. */
export const useValueChange = (symbol: string, since: string | null, asOf?: string) =>
  useQuery({
    queryKey: ["change", symbol, since, asOf],
    queryFn: ({ signal }) =>
      taken(
        client.GET("/api/companies/{symbol}/change", {
          params: { path: { symbol }, query: { since, as_of: asOf ?? null } },
          ...by(signal),
        }),
      ),
    placeholderData: keepPreviousData,
  });

export const usePriceChart = (symbol: string, body: Schemas["PriceRequest"]) =>
  useQuery({
    queryKey: ["price", symbol, body],
    queryFn: ({ signal }) =>
      taken(client.POST("/api/companies/{symbol}/price", { params: { path: { symbol } }, body, ...by(signal) })),
    placeholderData: keepPreviousData,
  });

/** How things moved between two days, once there are two. */
export const useStretch = (symbol: string, ends: [string, string] | null, asOf?: string) =>
  useQuery({
    queryKey: ["stretch", symbol, ends, asOf],
    queryFn: ({ signal }) =>
      taken(
        client.GET("/api/companies/{symbol}/stretch", {
          params: { path: { symbol }, query: { from: ends?.[0] ?? "", to: ends?.[1] ?? "", as_of: asOf ?? null } },
          ...by(signal),
        }),
      ),
    enabled: ends !== null,
    placeholderData: keepPreviousData,
  });

export type Note = Schemas["Note"];
export type Cases = Schemas["Cases"];

const made = (symbol: string, madeTo: number) => ({ path: { symbol }, header: { "If-Match": `"${madeTo}"` } });

/** What is kept of a company in one's own words. */
export const useNote = (symbol: string) =>
  useQuery({
    queryKey: ["note", symbol],
    queryFn: () => taken(client.GET("/api/companies/{symbol}/note", { params: { path: { symbol } } })),
    // What one is writing is not overwritten by what comes back to the window.
    refetchOnWindowFocus: false,
  });

export const saveNote = (symbol: string, madeTo: number, body: Note) =>
  taken(client.PUT("/api/companies/{symbol}/note", { params: made(symbol, madeTo), body }));

export const useCases = (symbol: string) =>
  useQuery({
    queryKey: ["cases", symbol],
    queryFn: () => taken(client.GET("/api/companies/{symbol}/cases", { params: { path: { symbol } } })),
  });

export const saveCases = (symbol: string, madeTo: number, body: Cases) =>
  taken(client.PUT("/api/companies/{symbol}/cases", { params: made(symbol, madeTo), body }));

/** How far one's own cases were off, so far. */
export const useCasesRecord = () =>
  useQuery({ queryKey: ["cases-record"], queryFn: () => taken(client.GET("/api/cases/record")) });

/** Cases worked out while one types. */
export const useWorkedOut = (symbol: string, body: Cases, asOf?: string) =>
  useQuery({
    queryKey: ["worked-out", symbol, body, asOf],
    queryFn: ({ signal }) =>
      taken(
        client.POST("/api/companies/{symbol}/cases", {
          params: { path: { symbol }, query: { as_of: asOf ?? null } },
          body,
          ...by(signal),
        }),
      ),
    placeholderData: keepPreviousData,
  });

/** The company's statements, years as columns, with formulas for the ratios. */
export const downloadCompany = (symbol: string, asOf?: string) =>
  save(
    `${symbol}.xlsx`,
    taken(client.GET("/api/companies/{symbol}/workbook", { params: known(symbol, asOf), parseAs: "blob" })),
  );
