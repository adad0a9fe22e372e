// The only place that talks to the server.
import createClient from "openapi-fetch";
import { copyText } from "../headless/clipboard";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Figure = Schemas["Figure"];
export type Unit = Schemas["Unit"];
export type Screen = Schemas["Screen"];
export type Block = Schemas["Block"];
export type Criterion = Schemas["Criterion"];
export type ScreenList = Schemas["ScreenList"];
export type ScreenAnswer = Schemas["ScreenAnswer"];
export type ScreenRow = Schemas["ScreenRow"];
export type Spread = Schemas["Spread"];
export type OwnRange = Schemas["OwnRange"];
export type Measure = Schemas["MeasureInfo"];
export type OwnMeasure = Schemas["OwnMeasure"];
export type FormulaFunction = Schemas["FunctionInfo"];
export type Assumptions = Schemas["Assumptions"];
export type AssumptionSet = Schemas["AssumptionSet"];
export type Own = Schemas["Override"];
export type Job = Schemas["JobInfo"];
export type Upload = Schemas["Upload"];
export type CsvPreview = Schemas["CsvPreview"];
export type Mapping = Schemas["Mapping"];

export const client = createClient<paths>({ baseUrl: "/" });

/** A refusal by the server: its sentence says what is wrong and what to do. */
export class Refusal extends Error {
  /** The problem's type after "artemon:", such as "empty-dataset". */
  readonly kind: string;

  constructor(message: string, kind = "") {
    super(message);
    this.kind = kind;
  }
}

export async function taken<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error } = await answer.catch((e: unknown) => {
    if (e instanceof DOMException && e.name === "AbortError") throw e;
    throw new Refusal("Artemon does not answer. See whether it is still running in its terminal, then try again.");
  });
  if (data !== undefined) return data;
  const problem = error as { title?: string; type?: string } | undefined;
  const kind = problem?.type?.replace(/^artemon:/, "");
  if (kind === "not-signed-in") for (const hear of endings) hear();
  throw new Refusal(problem?.title ?? "The server refused without saying why.", kind);
}

const endings = new Set<() => void>();

/** Hears that the session has ended. */
export const onSessionEnd = (hear: () => void): void => void endings.add(hear);

/** An answer without contents. */
export async function done(answer: Promise<{ error?: unknown; response: Response }>): Promise<void> {
  const { error, response } = await answer;
  if (!response.ok) await taken(Promise.resolve({ error, response }));
}

/** A request that is given up when a newer one takes its place. */
export const by = (signal: AbortSignal | undefined) => (signal ? { signal } : {});

/** Saves an answer as a file. */
export async function save(name: string, answer: Promise<unknown>): Promise<void> {
  const link = document.createElement("a");
  link.href = URL.createObjectURL((await answer) as Blob);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

/** Which rows are asked for. */
export interface Page {
  offset: number;
  rows: number;
  signal: AbortSignal;
}

export const api = {
  about: () => taken(client.GET("/api/about")),
  measures: () => taken(client.GET("/api/measures")),
  functions: () => taken(client.GET("/api/functions")),
  readCriterion: (text: string, as_of?: string) =>
    taken(client.POST("/api/criteria", { body: { text, as_of: as_of ?? null } })),
  readNumber: (text: string, unit: Unit | null | undefined) =>
    taken(client.POST("/api/numbers", { body: { text, unit: unit ?? null } })),
  saveDocument: (id: string, madeTo: number, file: Schemas["DocumentFile"]) =>
    taken(
      client.PUT("/api/documents/{id}", {
        params: { path: { id }, header: { "If-Match": `"${madeTo}"` } },
        body: file,
      }),
    ),
  documents: (kind: Schemas["DocumentKind"]) => taken(client.GET("/api/documents", { params: { query: { kind } } })),
  document: (id: string, version?: number) =>
    taken(client.GET("/api/documents/{id}", { params: { path: { id }, query: { version: version ?? null } } })),
  addDocument: (file: Schemas["DocumentFile"]) => taken(client.POST("/api/documents", { body: file })),
  deleteDocument: (id: string) => taken(client.DELETE("/api/documents/{id}", { params: { path: { id } } })),
  restoreDocument: (id: string) => taken(client.POST("/api/documents/{id}/restore", { params: { path: { id } } })),
  downloadDocument: (id: string, name: string) =>
    save(`${name}.json`, taken(client.GET("/api/documents/{id}/file", { params: { path: { id } }, parseAs: "blob" }))),
  compareScreens: (before: Screen, after: Screen) =>
    taken(client.POST("/api/screens/compare", { body: { before, after } })),
  screenChanges: (screen: Screen, since: string, signal: AbortSignal) =>
    taken(client.POST("/api/screen/changes", { body: { screen, since }, ...by(signal) })),
  screenYear: (screen: Screen, years_before: number, signal: AbortSignal) =>
    taken(client.POST("/api/screen/year", { body: { screen, years_before }, ...by(signal) })),
  runSaved: (id: string) => taken(client.POST("/api/screens/{id}/runs", { params: { path: { id } } })),
  repairs: () => taken(client.GET("/api/repairs")),
  matchCompany: (company_id: string, symbol: string | null) =>
    taken(client.POST("/api/repairs/match", { body: { company_id, symbol } })),
  readyColumns: () => taken(client.GET("/api/columns/ready")),
  usedFormulas: () => taken(client.GET("/api/criteria/used")),
  readyScreens: () => taken(client.GET("/api/screens/ready")),
  groups: (as_of?: string) => taken(client.GET("/api/groups", { params: { query: { as_of } } })),
  search: (q: string, as_of?: string) => taken(client.GET("/api/companies", { params: { query: { q, as_of } } })),
  company: (symbol: string, as_of?: string) =>
    taken(client.GET("/api/companies/{symbol}", { params: { path: { symbol }, query: { as_of } } })),
  screen: (screen: Screen, signal?: AbortSignal) =>
    taken(client.POST("/api/screen", { body: { screen }, ...by(signal) })),
  screenRows: (list: ScreenList, news: boolean, { offset, rows, signal }: Page) =>
    taken(client.POST("/api/screen/rows", { body: { list, offset, rows, news }, ...by(signal) })),
  screenWall: (list: ScreenList, months: number, { offset, rows, signal }: Page) =>
    taken(client.POST("/api/screen/wall", { body: { list, months, offset, rows }, ...by(signal) })),
  screenMap: (request: Schemas["MapRequest"], signal: AbortSignal) =>
    taken(client.POST("/api/screen/map", { body: request, ...by(signal) })),
  screenMedians: (list: ScreenList, signal: AbortSignal) =>
    taken(client.POST("/api/screen/medians", { body: list, ...by(signal) })),
  exportScreen: (list: ScreenList, format: Schemas["TableFormat"]) =>
    save(
      `${list.screen.name || "companies"}.${format}`,
      taken(client.POST("/api/screen/file", { body: { list, format }, parseAs: "blob" })),
    ),
  /** As tab-separated text, for the clipboard. */
  copyScreen: (list: ScreenList) =>
    taken(client.POST("/api/screen/file", { body: { list, format: "tsv" }, parseAs: "text" })).then((text) =>
      copyText(String(text)),
    ),
  screenSymbols: (list: ScreenList) => taken(client.POST("/api/screen/symbols", { body: list })),
  rank: (request: Schemas["RankRequest"], signal?: AbortSignal) =>
    taken(client.POST("/api/rank", { body: request, ...by(signal) })),
  rankSymbols: (request: Schemas["RankRequest"]) => taken(client.POST("/api/rank/symbols", { body: request })),
  exportCandidates: (request: Schemas["RankRequest"]) =>
    save("candidates.xlsx", taken(client.POST("/api/rank/xlsx", { body: request, parseAs: "blob" }))),
  glance: (symbol: string, as_of?: string) =>
    taken(
      client.GET("/api/companies/{symbol}/glance", { params: { path: { symbol }, query: { as_of: as_of ?? null } } }),
    ),
  valueWith: (symbol: string, request: Schemas["ValueRequest"]) =>
    taken(client.POST("/api/companies/{symbol}/value", { params: { path: { symbol } }, body: request })),
  assumeOf: (symbol: string, own: Schemas["Override"]) =>
    taken(client.PUT("/api/companies/{symbol}/own", { params: { path: { symbol } }, body: own })),
  assumptionSets: () => taken(client.GET("/api/assumptions")),
  saveAssumptions: ({ set, madeTo }: { set: Assumptions; madeTo?: number }) =>
    taken(
      client.PUT("/api/assumptions", {
        body: set,
        params: { header: madeTo === undefined ? {} : { "If-Match": `"${madeTo}"` } },
      }),
    ),
  adoptAssumptions: (name: string) => taken(client.POST("/api/assumptions/use", { body: { name } })),
  assumptionsVersion: (name: string, version: number) =>
    taken(client.GET("/api/assumptions/{name}/{version}", { params: { path: { name, version } } })),
  qualityComponents: () => taken(client.GET("/api/quality/components")),
  restoreAssumptions: (name: string) => taken(client.POST("/api/assumptions/restore", { body: { name } })),
  deleteAssumptions: (name: string) => taken(client.DELETE("/api/assumptions/{name}", { params: { path: { name } } })),
  checkFormula: (formula: string) => taken(client.POST("/api/formulas/check", { body: { formula } })),
  distribution: (formula: string, as_of?: string) =>
    taken(client.POST("/api/distribution", { body: { formula, as_of: as_of ?? null } })),
  explain: (request: Schemas["ExplainRequest"]) => taken(client.POST("/api/explain", { body: request })),
  standing: (request: Schemas["ExplainRequest"]) => taken(client.POST("/api/standing", { body: request })),
  evaluate: (request: Schemas["EvaluateRequest"]) => taken(client.POST("/api/evaluate", { body: request })),
  ownMeasures: () => taken(client.GET("/api/own-measures")),
  saveOwnMeasure: (measure: Schemas["OwnMeasure"]) => taken(client.PUT("/api/own-measures", { body: measure })),
  deleteOwnMeasure: (id: string) => taken(client.DELETE("/api/own-measures/{id}", { params: { path: { id } } })),
  data: () => taken(client.GET("/api/data")),
  holdings: (request: Schemas["HoldingsRequest"], signal: AbortSignal) =>
    taken(client.POST("/api/data/companies", { body: request, ...by(signal) })),
  findings: (request: Schemas["FindingsRequest"], signal: AbortSignal) =>
    taken(client.POST("/api/data/findings", { body: request, ...by(signal) })),
  safety: () => taken(client.GET("/api/safety")),
  copyNow: () => taken(client.POST("/api/copies")),
  restoreCopy: (name: string) => taken(client.POST("/api/copies/{name}/restore", { params: { path: { name } } })),
  feed: () => taken(client.GET("/api/feed")),
  chooseFeed: (address: string | null) => taken(client.PUT("/api/feed/source", { body: { address } })),
  nextSessions: (sessions: number) => taken(client.POST("/api/feed", { body: { sessions } })),
  jobs: () => taken(client.GET("/api/jobs")),
  cancelJob: (id: string) =>
    client.DELETE("/api/jobs/{id}", { params: { path: { id } } }).then(({ response }) => response.ok),
  upload: (files: { name: string; file: File }[]) => {
    const form = new FormData();
    for (const { name, file } of files) form.append("files", file, name);
    return taken(client.POST("/api/uploads", { body: { files: [] }, bodySerializer: () => form as unknown as string }));
  },
  previewFile: (id: string, request: Schemas["PreviewRequest"]) =>
    taken(client.POST("/api/uploads/{id}/preview", { params: { path: { id } }, body: request })),
  concepts: () => taken(client.GET("/api/concepts")),
  mapConcept: (mapping: Schemas["ConceptMapping"]) => taken(client.PUT("/api/concepts", { body: mapping })),
  startImport: (id: string, request: Schemas["StartImport"]) =>
    taken(client.POST("/api/uploads/{id}/import", { params: { path: { id } }, body: request })),
};
