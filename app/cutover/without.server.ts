import { usualLook } from "#core/looks/look";
import { offerChanges } from "#core/offers/changes";
import { looksOf } from "#server/looks/looks";
import { nameOf } from "#server/offers/names";
import { offlineLacks } from "#server/offers/offline";
import type { Runtime } from "#server/runtime";
import type { StorefrontNow } from "#server/storefronts/now";

/** What goes live on a storefront without a connection and its gates: offers that no provider moves, and the look. */
export async function withoutProviders(rt: Runtime, now: StorefrontNow) {
  const { working, live } = await looksOf(rt, now.storefront.id);
  return {
    offers: now.inOrder.flatMap((one) =>
      one.way === "offline"
        ? [
            {
              ...{ id: one.offer.id, name: nameOf(one), working: one.working.number },
              ...{ live: one.live?.number ?? null, off: one.offer.offInLive },
              changes: offerChanges(one.live?.document, one.working.document, now.zones),
              lacks: offlineLacks(now.storefront, one),
            },
          ]
        : [],
    ),
    lookWaits: JSON.stringify(working) !== JSON.stringify(live ?? usualLook),
  };
}
