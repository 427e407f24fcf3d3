import { and, eq, isNull, or } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { Zone } from "#core/offers/zones";
import type { Profile } from "#core/profiles/profile";
import { connectionsOf, type ServingConnection } from "../connections/connections";
import { type KeySides, keySidesOf } from "../connections/key-sides";
import type { Connection, DomainFile, Offer, Pair, Revision, Storefront } from "../database/rows";
import {
  connectionStorefronts,
  connectionTroubles,
  domainFiles,
  offerRevisions,
  offers,
  zones,
} from "../database/schema";
import type { Shelf } from "../memory";
import type { ProfileVersion } from "../profiles/library";
import type { Runtime } from "../runtime";
import { storefrontOf } from "./storefronts";
import { standingVersionOf } from "./version";

/** A connection on a storefront with its keys and its domain file, for each side. */
export interface ConnectionNow extends ServingConnection {
  keys: KeySides;
  files: Record<Mode, DomainFile | null>;
  /** Since when its provider does not answer, milliseconds since the epoch; null where it does. */
  troubled: Record<Mode, number | null>;
}

/** An offer with the revisions that test and live run, and the connection it is made through. */
export interface OfferWithRevisions {
  way: "provider";
  offer: Offer;
  working: Revision;
  live: Revision | null;
  through: ConnectionNow;
  connection: Connection;
  pair: Pair;
  /** The working version of the profile. */
  profile: Profile;
  versions: Record<Mode, ProfileVersion>;
}

/** An offer whose money no provider moves. */
export interface OfflineOffer {
  way: "offline";
  offer: Offer;
  working: Revision;
  live: Revision | null;
}

export type AnyOffer = OfferWithRevisions | OfflineOffer;

/** All that decides what a storefront offers, at one moment. */
export interface StorefrontNow {
  storefront: Storefront;
  connections: ConnectionNow[];
  /** In the order that shoppers see them; those that were removed are not among them. */
  inOrder: AnyOffer[];
  /** Zones that rules may name; they are the same for every storefront. */
  zones: Zone[];
  /** Those of them that a provider moves the money of. */
  offers: OfferWithRevisions[];
}

const shelf: Shelf<StorefrontNow | null> = { name: "storefront" };

/**
 * A storefront as it stands now: read in a handful of set-based statements, and kept in memory until anything that it
 * depends on changes, in whichever process. `version` is the standing version where it has been read already. Null when
 * there is no such storefront.
 */
export async function storefrontNow(
  rt: Runtime,
  storefrontId: string,
  version?: number,
): Promise<StorefrontNow | null> {
  const standing = version ?? (await standingVersionOf(rt));
  return rt.memory.recall(shelf, storefrontId, standing, () => read(rt, storefrontId));
}

/** The same for a storefront that is known to be there. */
export async function mustStand(rt: Runtime, storefrontId: string, version?: number): Promise<StorefrontNow> {
  const now = await storefrontNow(rt, storefrontId, version);
  if (!now) throw new Error(`there is no storefront ${storefrontId}`);
  return now;
}

async function read(rt: Runtime, storefrontId: string): Promise<StorefrontNow | null> {
  const { orm } = rt.db;
  const [storefront, serving, [rows, files, troubles, places]] = await Promise.all([
    storefrontOf(rt, storefrontId),
    connectionsOf(rt, storefrontId),
    orm.batch([
      orm
        .select({ offer: offers, revision: offerRevisions })
        .from(offers)
        .innerJoin(
          offerRevisions,
          or(eq(offerRevisions.id, offers.workingId), eq(offerRevisions.id, offers.liveId)),
        )
        .where(and(eq(offers.storefrontId, storefrontId), isNull(offers.removedAt))),
      orm
        .select({ file: domainFiles })
        .from(domainFiles)
        .innerJoin(connectionStorefronts, eq(connectionStorefronts.connectionId, domainFiles.connectionId))
        .where(eq(connectionStorefronts.storefrontId, storefrontId)),
      orm
        .select({ trouble: connectionTroubles })
        .from(connectionTroubles)
        .innerJoin(
          connectionStorefronts,
          eq(connectionStorefronts.connectionId, connectionTroubles.connectionId),
        )
        .where(eq(connectionStorefronts.storefrontId, storefrontId)),
      orm.select().from(zones).orderBy(zones.name),
    ]),
  ]);
  if (!storefront) return null;
  const keys = await keySidesOf(rt, serving);
  const connections = serving.map((where): ConnectionNow => {
    const mine = files.map((row) => row.file).filter((file) => file.connectionId === where.connection.id);
    const file = (mode: Mode) => (where.profile.file ? fileOn(storefrontId, mode, mine) : null);
    const troubled = (mode: Mode) =>
      troubles.find(({ trouble }) => trouble.connectionId === where.connection.id && trouble.mode === mode)
        ?.trouble.since ?? null;
    return {
      ...where,
      keys: keys.get(where.connection.id) as KeySides,
      files: { test: file("test"), live: file("live") },
      troubled: { test: troubled("test"), live: troubled("live") },
    };
  });
  const inOrder = offersFrom(connections, rows);
  return {
    storefront,
    connections,
    inOrder,
    zones: places,
    offers: inOrder.filter((one) => one.way === "provider"),
  };
}

/**
 * A mode's file as it was brought here, with what was found of it on one storefront's domain: each domain is looked at
 * by itself, and the file is the same for all.
 */
export function fileOn(storefrontId: string, mode: Mode, all: readonly DomainFile[]): DomainFile | null {
  const newestFirst = all.filter((one) => one.mode === mode).sort((a, b) => b.takenAt - a.takenAt);
  const own = newestFirst.find((one) => one.storefrontId === storefrontId);
  const brought = newestFirst.find((one) => one.body !== "");
  if (own) return own.body === "" && brought ? { ...own, name: brought.name, body: brought.body } : own;
  return brought ? { ...brought, storefrontId, lookedAt: null, findings: [], provider: null } : null;
}

function offersFrom(
  connections: readonly ConnectionNow[],
  rows: readonly { offer: Offer; revision: Revision }[],
): AnyOffer[] {
  const revisions = new Map(rows.map(({ revision }) => [revision.id, revision]));
  const all = new Map(rows.map(({ offer }) => [offer.id, offer]));
  return [...all.values()]
    .sort((a, b) => a.position - b.position || a.createdAt - b.createdAt || (a.id < b.id ? -1 : 1))
    .flatMap((offer): AnyOffer[] => {
      const working = revisions.get(offer.workingId);
      if (!working) return [];
      const live = (offer.liveId && revisions.get(offer.liveId)) || null;
      const { way } = offer;
      if (way === "offline") return [{ way, offer, working, live }];
      const through = connections.find((one) => one.connection.id === offer.connectionId);
      if (!through) return [];
      const { connection, pair, profile, versions } = through;
      return [{ way, offer, working, live, through, connection, pair, profile, versions }];
    });
}

export const offerIn = (now: StorefrontNow, offerId: string): OfferWithRevisions | null =>
  now.offers.find((one) => one.offer.id === offerId) ?? null;

/** The same, whichever way its money moves. */
export const anyOfferIn = (now: StorefrontNow, offerId: string): AnyOffer | null =>
  now.inOrder.find((one) => one.offer.id === offerId) ?? null;

export const connectionIn = (now: StorefrontNow, connectionId: string): ConnectionNow | null =>
  now.connections.find((one) => one.connection.id === connectionId) ?? null;

/** Whether live runs an offer: a revision of it was put live, and the lever of its connection is thrown where it has one. */
export const runsInLive = (one: AnyOffer): boolean =>
  one.live !== null && (one.way === "offline" || one.pair.live === "live");

/** Whether an offer was switched off in a mode. */
export const isOff = ({ offer }: Pick<AnyOffer, "offer">, mode: Mode): boolean =>
  mode === "test" ? offer.offInTest : offer.offInLive;

/** The revision that a mode runs. */
export const revisionFor = (one: Pick<AnyOffer, "working" | "live">, mode: Mode): Revision | null =>
  mode === "test" ? one.working : one.live;
