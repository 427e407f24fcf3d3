import { and, desc, eq, gte, lt } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { methodOf } from "#core/profiles/profile";
import { said } from "#core/said";
import { orderOf } from "#core/subscriptions/order";
import { checkoutAddress, newCheckout } from "../checkouts/checkouts";
import { isConflict } from "../database/guard";
import type { Checkout, Subscription } from "../database/rows";
import { checkouts } from "../database/schema";
import { candidatesIn } from "../offers/candidates";
import type { Runtime } from "../runtime";
import { anyOfferIn, mustStand, type StorefrontNow } from "../storefronts/now";

/** How often a shopper may have given something new before another number is no order number any more. */
const MOST = 99;

/** Whether shoppers of a storefront can give something new to be charged to without paying anything. */
export const takesNewWays = (now: StorefrontNow, mode: Mode): boolean =>
  candidatesIn(now, mode).some(({ id, verifies, document, standing, off }) => {
    const offer = anyOfferIn(now, id);
    return (
      verifies === true &&
      !off &&
      standing === "ready" &&
      document.repeats !== undefined &&
      offer?.way === "provider" &&
      methodOf(offer.versions[mode].profile, offer.offer.methodId)?.keeps === true
    );
  });

/** Whether something new can be given for a subscription as it stands: what is open of one is paid with it instead. */
export const mayChange = ({ state, ends }: Pick<Subscription, "state" | "ends">): boolean =>
  (state === "running" || state === "paused") && !ends;

/**
 * Where a shopper gives something new that a subscription is charged to from then on: a checkout of nothing, by an order
 * number of its own. The same as long as it is open. Null where nothing can be given without paying.
 */
export async function newWayFor(
  rt: Runtime,
  subscription: Subscription,
  until?: number,
): Promise<string | null> {
  const { id, storefrontId, mode, origin, reference, terms, quantity, customer, shopper } = subscription;
  if (!mayChange(subscription) || !takesNewWays(await mustStand(rt, storefrontId), mode)) return null;
  for (let attempt = 1; attempt <= 5; attempt++) {
    const before = await newWaysOf(rt, subscription);
    const [last] = before;
    if (last?.state === "open" && last.expiresAt > rt.now() + 60_000) return checkoutAddress(rt, last);
    if (before.length >= MOST) return null;
    const sum = { lines: [{ name: terms.name, quantity, unit: 0, total: 0 }], tax: 0, taxIncluded: true };
    const order = orderOf(
      `${beginningOf(reference)}${before.length + attempt}`,
      customer,
      { ...sum, total: 0 },
      {
        shopper,
        subscription: { id, terms, quantity, begins: false },
      },
    );
    const { checkout, statements } = newCheckout(
      rt,
      { storefrontId, mode, origin, order, known: null, ...(until !== undefined && { until }) },
      { at: rt.now(), from: "zahlung", to: "zahlung", label: said("subscriptions.new-way"), ok: true },
    );
    try {
      await rt.db.write(statements);
      return checkoutAddress(rt, checkout);
    } catch (error) {
      // Somebody else has opened it just now, or the shop has an order of its own that is called so.
      if (!isConflict(error)) throw error;
    }
  }
  return null;
}

const beginningOf = (reference: string): string => `${reference}-new-`;

/** The checkouts at which something new was asked for, the newest first. */
async function newWaysOf(rt: Runtime, of: Subscription): Promise<Checkout[]> {
  const from = beginningOf(of.reference);
  const rows = await rt.db.orm
    .select()
    .from(checkouts)
    .where(
      and(
        eq(checkouts.storefrontId, of.storefrontId),
        eq(checkouts.mode, of.mode),
        gte(checkouts.reference, from),
        lt(checkouts.reference, `${from}\u{10ffff}`),
      ),
    )
    .orderBy(desc(checkouts.createdAt))
    .limit(MOST);
  return rows.filter(({ order }) => order.subscription?.id === of.id);
}
