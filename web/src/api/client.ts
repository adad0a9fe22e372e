// The only place that talks to the server.
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Figure = Schemas["Figure"];
export type Unit = Schemas["Unit"];
export type Screen = Schemas["Screen"];
export type Block = Schemas["Block"];
export type Criterion = Schemas["Criterion"];
export type ScreenAnswer = Schemas["ScreenAnswer"];
export type Spread = Schemas["Spread"];
export type OwnRange = Schemas["OwnRange"];
export type Measure = Schemas["MeasureInfo"];

const client = createClient<paths>({ baseUrl: "/" });

/** A refusal by the server: its sentence says what is wrong and what to do. */
export class Refusal extends Error {}

async function taken<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error } = await answer.catch(() => {
    throw new Refusal("Artemon does not answer. See whether it is still running in its terminal, then try again.");
  });
  if (data !== undefined) return data;
  const problem = error as { title?: string } | undefined;
  throw new Refusal(problem?.title ?? "The server refused without saying why.");
}

export const api = {
  about: () => taken(client.GET("/api/about")),
  measures: () => taken(client.GET("/api/measures")),
  readyScreens: () => taken(client.GET("/api/screens/ready")),
  groups: (as_of?: string) => taken(client.GET("/api/groups", { params: { query: { as_of } } })),
  search: (q: string, as_of?: string) => taken(client.GET("/api/companies", { params: { query: { q, as_of } } })),
  company: (symbol: string, as_of?: string) =>
    taken(client.GET("/api/companies/{symbol}", { params: { path: { symbol }, query: { as_of } } })),
  screen: (screen: Screen) => taken(client.POST("/api/screen", { body: { screen } })),
  rank: (request: Schemas["RankRequest"]) => taken(client.POST("/api/rank", { body: request })),
  checkFormula: (formula: string) => taken(client.POST("/api/formulas/check", { body: { formula } })),
  distribution: (formula: string, as_of?: string) =>
    taken(client.POST("/api/distribution", { body: { formula, as_of: as_of ?? null } })),
};
