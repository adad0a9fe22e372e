// Who may use a server of several people: signing in, one's account, access tokens, who else may sign in, and what is shared. One hook a
// question.
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { amongSeveral, confirmed } from "../headless/presence";
import { client, done, type Schemas, save, taken } from "./client";

export type Who = Schemas["Who"];
export type Person = Schemas["PersonEntry"];
export type Role = Schemas["Role"];
export type Scope = Schemas["Scope"];
export type Share = Schemas["Share"];
export type ShareKind = Schemas["ShareKind"];
export type SharedAnswer = Schemas["SharedAnswer"];

export const people = {
  presence: () => taken(client.GET("/api/session")),
  signIn: (body: Schemas["SignIn"]) => taken(client.POST("/api/session", { body })),
  signOut: () => done(client.DELETE("/api/session")),
  confirm: (passphrase: string) => done(client.POST("/api/session/confirm", { body: { passphrase } })),
  invitation: (token: string) => taken(client.POST("/api/invitation", { body: { token } })),
  /** Nothing comes for who has a second factor, and signs in with it. */
  join: (body: Schemas["Join"]) =>
    client
      .POST("/api/join", { body })
      .then((answer) => (answer.response.status === 204 ? null : taken(Promise.resolve(answer)))),
  changePassphrase: (body: Schemas["ChangePassphrase"]) => done(client.PUT("/api/account/passphrase", { body })),
  beginSecondFactor: () => confirmed(() => taken(client.POST("/api/account/second-factor/begin"))),
  turnOn: (body: Schemas["TurnOn"]) => confirmed(() => taken(client.PUT("/api/account/second-factor", { body }))),
  turnOff: () => confirmed(() => done(client.DELETE("/api/account/second-factor"))),
  newCodes: () => confirmed(() => taken(client.POST("/api/account/recovery-codes"))),
  endSession: (id: string) =>
    confirmed(() => done(client.DELETE("/api/account/sessions/{id}", { params: { path: { id } } }))),
  signOutElsewhere: () => confirmed(() => done(client.DELETE("/api/account/sessions"))),
  everything: () => save("artemon-everything.zip", taken(client.GET("/api/account/everything", { parseAs: "blob" }))),
  leave: (body: Schemas["Leave"]) => confirmed(() => taken(client.DELETE("/api/account", { body }))),
  makeToken: (body: Schemas["NewToken"]) => confirmed(() => taken(client.POST("/api/tokens", { body }))),
  endToken: (id: string) => done(client.DELETE("/api/tokens/{id}", { params: { path: { id } } })),
  invite: (body: Schemas["Invite"]) => confirmed(() => taken(client.POST("/api/people/invitations", { body }))),
  withdraw: (id: string) => done(client.DELETE("/api/people/invitations/{id}", { params: { path: { id } } })),
  signPersonOut: (id: string) =>
    confirmed(() => done(client.DELETE("/api/people/{id}/sessions", { params: { path: { id } } }))),
  wayBack: (id: string, second_factor_lost: boolean) =>
    confirmed(() =>
      taken(client.POST("/api/people/{id}/way-back", { params: { path: { id } }, body: { second_factor_lost } })),
    ),
  changeRole: (id: string, role: Role) =>
    confirmed(() => taken(client.PUT("/api/people/{id}/role", { params: { path: { id } }, body: { role } }))),
  remove: (id: string, body: Schemas["Leave"]) =>
    confirmed(() => taken(client.DELETE("/api/people/{id}", { params: { path: { id } }, body }))),
  share: (kind: ShareKind, id: string) => taken(client.POST("/api/shared", { body: { kind, id } })),
  takeBack: (token: string) => done(client.DELETE("/api/shared/{token}", { params: { path: { token } } })),
  takeCopy: (token: string) => taken(client.POST("/api/shared/{token}/copy", { params: { path: { token } } })),
};

/** Who is signed in in this browser. */
export const useWho = (wanted: boolean) =>
  useQuery({ queryKey: ["presence"], queryFn: people.presence, enabled: wanted, staleTime: Number.POSITIVE_INFINITY });

export const useInvitation = (token: string) =>
  useQuery({
    queryKey: ["invitation", token],
    queryFn: () => people.invitation(token),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const useAccount = () => useQuery({ queryKey: ["account"], queryFn: () => taken(client.GET("/api/account")) });

export const useTokens = () => useQuery({ queryKey: ["tokens"], queryFn: () => taken(client.GET("/api/tokens")) });

export const usePersons = (wanted = true) =>
  useQuery({ queryKey: ["persons"], queryFn: () => taken(client.GET("/api/people")), enabled: wanted });

export const useShares = (wanted = true) =>
  useQuery({ queryKey: ["shares"], queryFn: () => taken(client.GET("/api/shared")), enabled: wanted });

export const useShared = (token: string) =>
  useQuery({
    queryKey: ["shared", token],
    queryFn: () => taken(client.GET("/api/shared/{token}", { params: { path: { token } } })),
    staleTime: 0,
  });

/** The audit log page by page: what one did, or everybody. */
export const useLog = (everybody: boolean) =>
  useInfiniteQuery({
    queryKey: ["log", everybody],
    queryFn: ({ pageParam: before }) => {
      const params = { query: { before } };
      return taken(everybody ? client.GET("/api/people/log", { params }) : client.GET("/api/account/log", { params }));
    },
    initialPageParam: null as number | null,
    getNextPageParam: (last) => (last.more ? last.entries.at(-1)?.n : undefined),
    staleTime: 0,
  });

/** Does something that is seen in some of these answers afterwards. */
export function useChange<T, A = void>(change: (of: A) => Promise<T>, ...seen: string[]) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: () => queries.invalidateQueries({ predicate: (q) => [...seen, "log"].includes(String(q.queryKey[0])) }),
  });
}

/** Whether one looks after what is everybody's: data, copies, people. Whoever is alone on their machine does. */
export function useOwner(): boolean {
  const who = useWho(amongSeveral).data?.who;
  return !amongSeveral || who?.role === "owner";
}
