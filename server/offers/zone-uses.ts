import { eq, isNull, or } from "drizzle-orm";
import { tableOf } from "#core/offers/baskets";
import { offerLabel } from "#core/offers/offer";
import { namesZone } from "#core/offers/rules";
import type { Zone } from "#core/offers/zones";
import { offerRevisions, offers, storefronts } from "../database/schema";
import type { Runtime } from "../runtime";
import { type AnyOffer, isOff, mustStand, runsInLive, type StorefrontNow } from "../storefronts/now";
import { basketsOf } from "./baskets";
import { candidatesIn } from "./candidates";

/** An offer whose rules name a zone, in what is worked on or in what live runs. */
export interface ZoneUse {
  offerId: string;
  way: AnyOffer["way"];
  label: string;
  storefrontId: string;
  storefront: string;
  /** Whether shoppers who really pay meet this rule. */
  live: boolean;
}

/** The offers that name zones in their rules, by the zone, in no more than one statement. */
export async function zoneUses(
  rt: Runtime,
  zones: readonly Pick<Zone, "id">[],
): Promise<Map<string, ZoneUse[]>> {
  const rows = await rt.db.orm
    .select({ offer: offers, storefront: storefronts.name, revision: offerRevisions })
    .from(offers)
    .innerJoin(storefronts, eq(storefronts.id, offers.storefrontId))
    .innerJoin(
      offerRevisions,
      or(eq(offerRevisions.id, offers.workingId), eq(offerRevisions.id, offers.liveId)),
    )
    .where(isNull(offers.removedAt))
    .orderBy(storefronts.createdAt, offers.id);
  const uses = new Map<string, ZoneUse[]>();
  for (const { id } of zones) {
    const mine = new Map<string, ZoneUse>();
    for (const { offer, storefront, revision } of rows) {
      const { rules } = revision.document;
      if (!rules || !namesZone(rules, id)) continue;
      const live = revision.id === offer.liveId && !offer.offInLive;
      mine.set(offer.id, {
        ...{ offerId: offer.id, way: offer.way, storefrontId: offer.storefrontId, storefront },
        label: offerLabel(revision.document) || offer.methodId,
        live: live || (mine.get(offer.id)?.live ?? false),
      });
    }
    uses.set(id, [...mine.values()]);
  }
  return uses;
}

/** What another extent of a zone does in live, as soon as it is kept. */
export interface ZoneEffect {
  /** The offers that shoppers meet its rule at. */
  offers: ZoneUse[];
  /** Kept baskets for which one of them is shown or withheld otherwise by then. */
  baskets: { basket: string; storefront: string; offer: string; shown: boolean }[];
}

/** What it does in live that a zone is changed to `next`, for all storefronts that have a rule of it there. */
export async function zoneEffect(rt: Runtime, next: Zone): Promise<ZoneEffect> {
  const uses = (await zoneUses(rt, [next])).get(next.id)?.filter((one) => one.live) ?? [];
  const effect: ZoneEffect = { offers: [], baskets: [] };
  for (const storefrontId of new Set(uses.map((one) => one.storefrontId))) {
    const now = await mustStand(rt, storefrontId);
    const mine = uses.filter(
      (use) =>
        use.storefrontId === storefrontId &&
        now.inOrder.some((one) => one.offer.id === use.offerId && runsInLive(one) && !isOff(one, "live")),
    );
    effect.offers.push(...mine);
    effect.baskets.push(...(await basketsChanged(rt, now, mine, next)));
  }
  return effect;
}

async function basketsChanged(
  rt: Runtime,
  now: StorefrontNow,
  uses: readonly ZoneUse[],
  next: Zone,
): Promise<ZoneEffect["baskets"]> {
  const kept = (await basketsOf(rt, now.storefront.id)).map(({ basket }) => basket);
  const candidates = candidatesIn(now, "live").filter(({ id }) => uses.some((use) => use.offerId === id));
  const zones = now.zones.map((one) => (one.id === next.id ? next : one));
  const before = tableOf(candidates, kept, rt.now());
  const after = tableOf(
    candidates.map((one) => ({ ...one, zones })),
    kept,
    rt.now(),
  );
  return kept.flatMap(({ name }, i) =>
    uses.flatMap(({ offerId, label, storefront }) => {
      const [was, is] = [before, after].map((table) => table[i]?.get(offerId) === null);
      return was === is || is === undefined ? [] : [{ basket: name, storefront, offer: label, shown: is }];
    }),
  );
}
