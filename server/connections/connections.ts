import { and, desc, eq, isNull, ne, type SQL, sql, isNotNull } from "drizzle-orm";
import { isMode, modes, type Mode } from "#core/mode";
import { secretFromBytes } from "#core/webhooks/standard-webhooks";
import type { Profile } from "#core/profiles/profile";
import { changeSettings } from "../audit/audit";
import { prepared } from "../database/prepared";
import type { Connection, Endpoint, Pair } from "../database/rows";
import { connections, connectionStorefronts, endpoints, offers } from "../database/schema";
import type { ProfileVersion } from "../profiles/library";
import { currentVersion } from "../profiles/profiles";
import type { Runtime } from "../runtime";

/** The statement that makes a new webhook address with a secret of its own, and what it makes. */
export function newEndpoint(rt: Runtime, connectionId: string, mode: Mode) {
  const id = rt.ids.next("hook");
  const secret = secretFromBytes(rt.ids.bytes(32));
  const row = {
    id,
    connectionId,
    mode,
    path: rt.ids.secret(),
    secret: rt.seal.close(secret, `endpoint:${id}`),
    secretHint: secret.slice(-4),
    createdAt: rt.now(),
    registration: null,
  };
  return { row, statement: rt.db.orm.insert(endpoints).values(row) };
}

/** Longest name of a connection, in letters. */
export const LONGEST_NAME = 60;

/**
 * Connects an account at a provider to a storefront, with the profile's current version; both modes get a webhook
 * address at once. Without a name it gets the provider's, with a number when that is taken.
 */
export async function addConnection(
  rt: Runtime,
  person: string,
  {
    profile,
    storefrontId,
    name,
  }: { profile: Pick<Profile, "id" | "name">; storefrontId: string; name?: string },
): Promise<string> {
  const id = rt.ids.next("con");
  const version = await currentVersion(rt, profile.id);
  if (!version) throw new Error(`profile ${profile.id} is not installed`);
  const row = {
    id,
    profileId: profile.id,
    testVersionId: version.id,
    storefrontId,
    name: name?.trim().slice(0, LONGEST_NAME) || (await freeName(rt, profile.name)),
    createdAt: rt.now(),
  };
  await changeSettings(
    rt,
    {
      person,
      action: "connection added",
      subject: id,
      detail: { profile: profile.id, version: version.version, storefrontId, name: row.name },
    },
    [
      rt.db.orm.insert(connections).values(row),
      rt.db.orm.insert(connectionStorefronts).values({ connectionId: id, storefrontId, since: rt.now() }),
      ...modes.map((mode) => newEndpoint(rt, id, mode).statement),
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

export interface ConnectionWithProfile {
  connection: Connection;
  /** The working version of the profile, which the test side runs and the sheet is about. */
  profile: Profile;
  /** The version that each side runs. */
  versions: Record<Mode, ProfileVersion>;
  /** Storefronts on which it is live. */
  liveOn: string[];
}

/** A connection as it stands on one storefront that it serves. */
export interface ServingConnection extends ConnectionWithProfile {
  pair: Pair;
}

/** The profile version that a side of a connection runs, as far as no storefront says more. */
export const sideVersion = (
  { testVersionId, liveVersionId }: Pick<Connection, "testVersionId" | "liveVersionId">,
  mode: Mode,
): string => (mode === "test" ? testVersionId : (liveVersionId ?? testVersionId));

const liveOn = sql<string>`(select json_group_array(l.storefront_id) from connection_storefronts l
  where l.connection_id = "connections"."id" and l.live = 'live')`;

const byId = prepared((orm) =>
  orm
    .select({ connection: connections, liveOn })
    .from(connections)
    .where(eq(connections.id, sql.placeholder("id")))
    .prepare(),
);

export async function connectionOf(rt: Runtime, id: string): Promise<ConnectionWithProfile | null> {
  const [row] = await byId(rt.db).all({ id });
  if (!row) return null;
  const { connection } = row;
  const [test, live] = (await rt.library.all(modes.map((mode) => sideVersion(connection, mode)))) as [
    ProfileVersion,
    ProfileVersion,
  ];
  return {
    connection,
    profile: test.profile,
    versions: { test, live },
    liveOn: JSON.parse(row.liveOn) as string[],
  };
}

/** The connections that serve a storefront and are not disconnected, in the order they were added. */
export async function connectionsOf(rt: Runtime, storefrontId: string): Promise<ServingConnection[]> {
  return readServing(
    rt,
    isNull(connections.disconnectedAt),
    eq(connectionStorefronts.storefrontId, storefrontId),
  );
}

async function readServing(rt: Runtime, ...conditions: SQL[]): Promise<ServingConnection[]> {
  const rows = await rt.db.orm
    .select({ connection: connections, pair: connectionStorefronts, liveOn })
    .from(connections)
    .innerJoin(connectionStorefronts, eq(connectionStorefronts.connectionId, connections.id))
    .where(and(...conditions));
  const ids = rows.flatMap(({ connection: { testVersionId, liveVersionId }, pair }) => [
    testVersionId,
    pair.versionId ?? liveVersionId ?? testVersionId,
  ]);
  const versions = await rt.library.all(ids);
  return rows
    .map(({ connection, pair, liveOn }, i): ServingConnection => {
      const [test, live] = [versions[2 * i], versions[2 * i + 1]] as [ProfileVersion, ProfileVersion];
      const profile = test.profile;
      return { connection, pair, profile, versions: { test, live }, liveOn: JSON.parse(liveOn) as string[] };
    })
    .sort(
      (a, b) =>
        a.connection.createdAt - b.connection.createdAt || (a.connection.id < b.connection.id ? -1 : 1),
    );
}

/** Accounts that are connected for other storefronts only, and could serve this one too. */
export const connectionsElsewhere = (rt: Runtime, storefrontId: string) =>
  rt.db.orm
    .select({ id: connections.id, name: connections.name, profileId: connections.profileId })
    .from(connections)
    .where(
      and(
        isNull(connections.disconnectedAt),
        sql`not exists (select 1 from connection_storefronts s
          where s.connection_id = ${connections.id} and s.storefront_id = ${storefrontId})`,
      ),
    )
    .orderBy(connections.createdAt, connections.id);

/** A connection, if there is one of this id that serves the storefront. */
export async function connectionServing(
  rt: Runtime,
  storefrontId: string,
  id: string,
): Promise<ServingConnection | null> {
  const [found] = await readServing(
    rt,
    isNull(connections.disconnectedAt),
    eq(connectionStorefronts.storefrontId, storefrontId),
    eq(connections.id, id),
  );
  return found ?? null;
}

/**
 * The mode that an address asks for. Where it names none, what people look at day by day: live, once anything has been cut
 * over; test until then.
 */
export async function modeShown(rt: Runtime, storefrontId: string, wanted: string | null): Promise<Mode> {
  if (isMode(wanted)) return wanted;
  const [went] = await rt.db.orm
    .select({ id: connectionStorefronts.connectionId })
    .from(connectionStorefronts)
    .where(and(eq(connectionStorefronts.storefrontId, storefrontId), ne(connectionStorefronts.live, "never")))
    .limit(1);
  if (went) return "live";
  const [offline] = await rt.db.orm
    .select({ id: offers.id })
    .from(offers)
    .where(and(eq(offers.storefrontId, storefrontId), eq(offers.way, "offline"), isNotNull(offers.liveId)))
    .limit(1);
  return offline ? "live" : "test";
}

const inUse = prepared((orm) =>
  orm
    .select()
    .from(endpoints)
    .where(
      and(
        eq(endpoints.connectionId, sql.placeholder("connectionId")),
        eq(endpoints.mode, sql.placeholder("mode")),
        isNull(endpoints.retiredAt),
      ),
    )
    .orderBy(desc(endpoints.createdAt))
    .limit(1)
    .prepare(),
);

export async function currentEndpoint(rt: Runtime, connectionId: string, mode: Mode): Promise<Endpoint> {
  const [row] = await inUse(rt.db).all({ connectionId, mode });
  if (!row) throw new Error(`connection ${connectionId} has no webhook address`);
  return row;
}

export const endpointAddress = (rt: Runtime, endpoint: Pick<Endpoint, "path">) =>
  `${rt.settings.origin}/hooks/${endpoint.path}`;
