import { and, desc, eq, isNull, ne } from "drizzle-orm";
import { modes, type Mode } from "#core/mode";
import { secretFromBytes } from "#core/webhooks/standard-webhooks";
import type { Profile } from "#core/profiles/profile";
import { changeSettings } from "../audit/audit";
import { connections, connectionStorefronts, endpoints, keySets, profiles } from "../database/schema";
import type { Runtime } from "../runtime";

export type Connection = typeof connections.$inferSelect;
export type KeySet = typeof keySets.$inferSelect;
export type Endpoint = typeof endpoints.$inferSelect;

/** The statement that makes a new webhook address with a secret of its own. */
function newEndpoint(rt: Runtime, connectionId: string, mode: Mode) {
  const id = rt.ids.next("hook");
  const secret = secretFromBytes(rt.ids.bytes(32));
  return rt.db.orm.insert(endpoints).values({
    id,
    connectionId,
    mode,
    path: rt.ids.secret(),
    secret: rt.seal.close(secret, `endpoint:${id}`),
    secretHint: secret.slice(-4),
    createdAt: rt.now(),
    registration: null,
  });
}

/** Longest name of a connection, in letters. */
export const LONGEST_NAME = 60;

/**
 * Connects an account at a provider to a storefront; both modes get a webhook address at once. Without a name it
 * gets the provider's, with a number when that is taken.
 */
export async function addConnection(
  rt: Runtime,
  person: string,
  { profile, storefrontId, name }: { profile: Profile; storefrontId: string; name?: string },
): Promise<string> {
  const id = rt.ids.next("con");
  const row = {
    id,
    profileId: profile.id,
    storefrontId,
    name: name?.trim().slice(0, LONGEST_NAME) || (await freeName(rt, profile.name)),
    live: "never" as const,
    createdAt: rt.now(),
  };
  await changeSettings(
    rt,
    {
      person,
      action: "connection added",
      subject: id,
      detail: { profile: profile.id, storefrontId, name: row.name },
    },
    [
      rt.db.orm.insert(connections).values(row),
      rt.db.orm.insert(connectionStorefronts).values({ connectionId: id, storefrontId, since: rt.now() }),
      ...modes.map((mode) => newEndpoint(rt, id, mode)),
    ],
  );
  return id;
}

async function freeName(rt: Runtime, name: string): Promise<string> {
  const rows = await rt.db.orm.select({ name: connections.name }).from(connections);
  const taken = new Set(rows.map((row) => row.name));
  for (let number = 1; ; number++) {
    const tried = number === 1 ? name : `${name} ${number}`;
    if (!taken.has(tried)) return tried;
  }
}

export async function renameConnection(rt: Runtime, person: string, id: string, name: string): Promise<void> {
  await changeSettings(rt, { person, action: "connection renamed", subject: id, detail: { name } }, [
    rt.db.orm.update(connections).set({ name }).where(eq(connections.id, id)),
  ]);
}

/** The storefronts that a connection serves. */
export async function servedBy(rt: Runtime, connectionId: string): Promise<string[]> {
  const rows = await rt.db.orm
    .select({ id: connectionStorefronts.storefrontId })
    .from(connectionStorefronts)
    .where(eq(connectionStorefronts.connectionId, connectionId))
    .orderBy(connectionStorefronts.since);
  return rows.map((row) => row.id);
}

/** A connection, if there is one of this id that serves the storefront. */
export async function connectionServing(
  rt: Runtime,
  storefrontId: string,
  id: string,
): Promise<ConnectionWithProfile | null> {
  return (await connectionsOf(rt, storefrontId)).find((one) => one.connection.id === id) ?? null;
}

export interface ConnectionWithProfile {
  connection: Connection;
  profile: Profile;
}

export async function connectionOf(rt: Runtime, id: string): Promise<ConnectionWithProfile | null> {
  const [row] = await rt.db.orm
    .select({ connection: connections, profile: profiles.document })
    .from(connections)
    .innerJoin(profiles, eq(profiles.id, connections.profileId))
    .where(eq(connections.id, id));
  return row ?? null;
}

export const connectionsOf = (rt: Runtime, storefrontId: string): Promise<ConnectionWithProfile[]> =>
  rt.db.orm
    .select({ connection: connections, profile: profiles.document })
    .from(connections)
    .innerJoin(profiles, eq(profiles.id, connections.profileId))
    .innerJoin(connectionStorefronts, eq(connectionStorefronts.connectionId, connections.id))
    .where(and(eq(connectionStorefronts.storefrontId, storefrontId), isNull(connections.disconnectedAt)))
    .orderBy(connections.createdAt, connections.id);

/** What people look at day by day: live, once anything has been cut over; test until then. */
export async function everydayMode(rt: Runtime, storefrontId: string): Promise<Mode> {
  const [went] = await rt.db.orm
    .select({ id: connections.id })
    .from(connections)
    .innerJoin(connectionStorefronts, eq(connectionStorefronts.connectionId, connections.id))
    .where(and(eq(connectionStorefronts.storefrontId, storefrontId), ne(connections.live, "never")))
    .limit(1);
  return went ? "live" : "test";
}

export async function currentKeySet(rt: Runtime, connectionId: string, mode: Mode): Promise<KeySet | null> {
  const [row] = await rt.db.orm
    .select()
    .from(keySets)
    .where(and(eq(keySets.connectionId, connectionId), eq(keySets.mode, mode)))
    .orderBy(desc(keySets.number))
    .limit(1);
  return row ?? null;
}

export async function currentEndpoint(rt: Runtime, connectionId: string, mode: Mode): Promise<Endpoint> {
  const [row] = await rt.db.orm
    .select()
    .from(endpoints)
    .where(
      and(eq(endpoints.connectionId, connectionId), eq(endpoints.mode, mode), isNull(endpoints.retiredAt)),
    )
    .orderBy(desc(endpoints.createdAt))
    .limit(1);
  if (!row) throw new Error(`connection ${connectionId} has no webhook address`);
  return row;
}

export const endpointAddress = (rt: Runtime, endpoint: Endpoint) =>
  `${rt.settings.origin}/hooks/${endpoint.path}`;

/** Replaces a webhook address and its secret. The old one goes on listening for what is under way. */
export async function replaceEndpoint(
  rt: Runtime,
  person: string,
  connectionId: string,
  mode: Mode,
): Promise<void> {
  const old = await currentEndpoint(rt, connectionId, mode);
  await changeSettings(
    rt,
    { person, action: "webhook address replaced", subject: connectionId, detail: { mode } },
    [
      rt.db.orm.update(endpoints).set({ retiredAt: rt.now() }).where(eq(endpoints.id, old.id)),
      newEndpoint(rt, connectionId, mode),
    ],
  );
}
