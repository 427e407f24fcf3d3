import { and, eq, isNull, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { caseIds } from "#core/rehearsal/cases";
import { provesAll, messageProves } from "../connections/key-sides";
import type { DomainFile, Endpoint, KeyCheck, KeySet, Proof, Storefront } from "../database/rows";
import { prepared } from "../database/prepared";
import {
  connectionStorefronts,
  endpoints,
  MOVED_MONEY,
  offers,
  proofs,
  rehearsals,
} from "../database/schema";
import type { Shelf } from "../memory";
import { carrierOf } from "../offers/carrier";
import { partsFrom } from "../offers/parts";
import { type Board, boardFrom, type CaseCount, countCases, type RunningRehearsal } from "../rehearsal/board";
import type { Runtime } from "../runtime";
import type { ConnectionNow, OfferWithRevisions, StorefrontNow } from "../storefronts/now";
import { callsQuery } from "../storefronts/storefronts";

/** What is recorded of a connection's keys and webhook in one mode. */
export interface Side {
  keys: KeySet | null;
  check: KeyCheck | null;
  /** Whether the check is of the keys that are there now. */
  fresh: boolean;
  endpoint: Endpoint;
  file: DomainFile | null;
}

export interface OfferStanding {
  offer: OfferWithRevisions;
  board: Board;
  cases: CaseCount;
}

/** All that is recorded of one connection on one storefront: gates and track are readings of it. */
export interface Standing extends ConnectionNow, Record<Mode, Side> {
  now: StorefrontNow;
  storefront: Storefront;
  offers: OfferStanding[];
  shopCalledLive: number | null;
  /** The live connection that a device wallet rides on; null where there is none, or it rides on nothing. */
  carriedLive: string | null;
  /** Live payments that moved money, counted no further than a thousand. */
  livePayments: number;
}

const ENOUGH = 1_000;

/** How many live payments moved money through a pair, of a row of `connection_storefronts`; no further than a thousand. */
export const earningOf = sql<number>`(select count(*) from (select 1 from payments p
  where p.storefront_id = "connection_storefronts"."storefront_id"
  and p.connection_id = "connection_storefronts"."connection_id"
  and mode = 'live' and ${sql.raw(MOVED_MONEY)} limit ${sql.raw(String(ENOUGH))}))`;

/** However many purchases have been walked, a look into the index for each case finds its newest proof. */
const newestOfEachCase = sql`${proofs.id} in (select (
  select p.id from proofs p where p.offer_id = ${offers.id} and p.case_id = c.value and p.state <> 'stopped'
  order by p.started_at desc limit 1) from json_each(${JSON.stringify(caseIds)}) c)`;

/** Where connections stand but for what the shop does all day, and the readings that were made of it since. */
interface Kept {
  standings: Standing[];
  /** The last reading with what the shop does, and what that was. */
  last: { seen: string; standings: Standing[] } | null;
}

const shelf: Shelf<Kept> = { name: "standings" };

/** What the shop does all day: live payments of each connection, and when it last called. */
const daily = prepared((orm) => {
  const id = sql.placeholder("id");
  return {
    counts: orm
      .select({ connectionId: connectionStorefronts.connectionId, paid: earningOf })
      .from(connectionStorefronts)
      .where(eq(connectionStorefronts.storefrontId, id))
      .toSQL().sql,
    calls: callsQuery(orm, id).toSQL().sql,
  };
});

/**
 * Where every connection of a storefront stands. With `all`, the version read before `now` was, it is kept in memory until
 * anything that it depends on changes, in whichever process. What the shop does all day, paying and calling, is read each
 * time.
 */
export async function standingsOf(rt: Runtime, now: StorefrontNow, all?: number): Promise<Standing[]> {
  const { id } = now.storefront;
  const read = async (): Promise<Kept> => ({ standings: await readStandings(rt, now), last: null });
  const texts = daily(rt.db);
  const [kept, [counts, calls]] = await Promise.all([
    all === undefined ? read() : rt.memory.recall(shelf, id, all, read),
    rt.db.client.batch([
      { sql: texts.counts, args: [id] },
      { sql: texts.calls, args: [id] },
    ]),
  ]);
  const paid = new Map((counts?.rows ?? []).map((row) => [row[0], Number(row[1])]));
  const called = (calls?.rows ?? []).find((row) => row[0] === "live")?.[1];
  const shopCalledLive = called === null || called === undefined ? null : Number(called);
  // While nothing happens the very same is given out, so that what was made of it need not be made again.
  const seen = JSON.stringify([shopCalledLive, [...paid]]);
  if (kept.last?.seen !== seen) {
    const standings = kept.standings.map((one) => ({
      ...one,
      shopCalledLive,
      livePayments: paid.get(one.connection.id) ?? 0,
    }));
    kept.last = { seen, standings };
  }
  return kept.last.standings;
}

/** In one batch of set-based statements, however many connections there are. */
async function readStandings(rt: Runtime, now: StorefrontNow): Promise<Standing[]> {
  const { orm } = rt.db;
  const { storefront } = now;
  const here = and(eq(offers.storefrontId, storefront.id), isNull(offers.removedAt));
  const [addresses, newest, running] = await orm.batch([
    orm
      .select({ endpoint: endpoints })
      .from(endpoints)
      .innerJoin(connectionStorefronts, eq(connectionStorefronts.connectionId, endpoints.connectionId))
      .where(and(eq(connectionStorefronts.storefrontId, storefront.id), isNull(endpoints.retiredAt))),
    orm.select({ proof: proofs }).from(offers).innerJoin(proofs, newestOfEachCase).where(here),
    orm
      .select({
        rehearsal: rehearsals,
        done: sql<number>`(select count(*) from proofs p where p.rehearsal_id = ${rehearsals.id} and p.state <> 'running')`,
      })
      .from(rehearsals)
      .innerJoin(offers, eq(offers.id, rehearsals.offerId))
      .where(and(here, isNull(rehearsals.endedAt))),
  ]);
  const read: Read = { now, proofs: newest.map((row) => row.proof), running, readAt: rt.now() };
  return now.connections.map((at) => {
    const mine = addresses
      .map((row) => row.endpoint)
      .filter((one) => one.connectionId === at.connection.id)
      .sort((a, b) => b.createdAt - a.createdAt);
    return standingFrom(read, at, mine);
  });
}

interface Read {
  now: StorefrontNow;
  proofs: Proof[];
  running: RunningRehearsal[];
  /** When it was read, milliseconds since the epoch. */
  readAt: number;
}

function standingFrom(
  { now, proofs: all, running, readAt }: Read,
  at: ConnectionNow,
  addresses: readonly Endpoint[],
): Standing {
  const { id } = at.connection;
  const side = (mode: Mode): Side => {
    const { current, fresh, check: newest, answered } = at.keys[mode];
    // A press that ran out of time takes nothing back of what was proven before.
    const check = answered ?? newest;
    const endpoint = addresses.find((one) => one.mode === mode);
    if (!endpoint) throw new Error(`connection ${id} has no webhook address`);
    return { keys: current, check, fresh, endpoint, file: at.files[mode] };
  };
  const test = side("test");
  return {
    ...at,
    now,
    storefront: now.storefront,
    test,
    live: side("live"),
    shopCalledLive: null,
    carriedLive: carrierOf(now, at.profile, "live")?.offer.connection.name ?? null,
    livePayments: 0,
    offers: now.offers
      .filter((one) => one.connection.id === id)
      .map((offer) => {
        const board = boardFrom(
          offer,
          now.storefront,
          partsFrom(now, offer, test.endpoint.id),
          carrierOf(now, offer.profile, "test"),
          all.filter((proof) => proof.offerId === offer.offer.id),
          running.find((one) => one.rehearsal.offerId === offer.offer.id) ?? null,
          readAt,
        );
        return { offer, board, cases: countCases(board.cells) };
      }),
  };
}

/** Where one connection stands on its storefront. */
export async function standingOf(rt: Runtime, now: StorefrontNow, connectionId: string): Promise<Standing> {
  const found = (await standingsOf(rt, now)).find((one) => one.connection.id === connectionId);
  if (!found) throw new Error(`connection ${connectionId} does not serve ${now.storefront.id}`);
  return found;
}

/** Whether every field of the profile that a call can prove is proven with the keys that are there now. */
export const keysProven = ({ profile }: Pick<Standing, "profile">, { check, fresh }: Side): boolean =>
  fresh && check !== null && provesAll(profile, check);

/** Whether the provider found its file on the shop's domain; one that wants none has nothing to prove. */
export const domainProven = ({ profile }: Pick<Standing, "profile">, { file }: Side): boolean =>
  !profile.file || file?.provider?.ok === true;

/** Whether the provider's messages are believed; one that sends none has nothing to prove. */
export const webhookProven = ({ profile }: Pick<Standing, "profile">, { keys, endpoint }: Side): boolean =>
  !profile.webhooks || (endpoint.provenAt !== null && messageProves(profile, keys, endpoint));
