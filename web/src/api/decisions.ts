// The record of decisions.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { by, client, done, type Schemas, taken } from "./client";

export type Reasons = Schemas["Reasons"];
export type Choice = Schemas["Choice"];

const of = (id: string) => ({ params: { path: { id } } });

export const useDecisions = (body: Schemas["DecisionsRequest"], wanted = true) =>
  useQuery({
    queryKey: ["ledger", "decisions", body],
    queryFn: ({ signal }) => taken(client.POST("/api/decisions", { body, ...by(signal) })),
    enabled: wanted,
    placeholderData: keepPreviousData,
  });

export const useDecision = (id: string | null, body: Schemas["DecisionsRequest"]) =>
  useQuery({
    queryKey: ["ledger", "decision", id, body],
    queryFn: ({ signal }) => taken(client.POST("/api/decisions/{id}", { ...of(id ?? ""), body, ...by(signal) })),
    enabled: id !== null,
  });

export const decisions = {
  decide: (body: Schemas["NewDecision"]) => taken(client.POST("/api/decisions/new", { body })),
  review: (id: string, body: Schemas["Review"]) =>
    done(client.POST("/api/decisions/{id}/reviews", { ...of(id), body })),
};
