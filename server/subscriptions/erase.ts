import { and, eq } from "drizzle-orm";
import { placeOf } from "#core/places/address";
import type { Customer } from "#core/subscriptions/order";
import { forgetShopper } from "../buttons/close";
import { subscriptions } from "../database/schema";
import { erase, ERASED } from "../instruments/instruments";
import type { Shopper } from "../instruments/instruments";
import type { Runtime } from "../runtime";
import { actOn } from "./change";

/** A subscription's customer as its books keep them: what was bought, and where that lies, without whose it was. */
const withoutThem = ({ shipTo, billTo, ...rest }: Customer): Customer => ({
  ...rest,
  email: "",
  ...(shipTo && { shipTo: placeOf(shipTo) }),
  ...(billTo && { billTo: placeOf(billTo) }),
});

/**
 * Erases a shopper of a storefront: what they subscribed to ends, nothing of theirs can be charged any more, and nothing
 * here says whose it was. Answers how many things kept there were.
 */
export async function eraseShopper(rt: Runtime, whose: Shopper): Promise<number> {
  const { storefrontId, mode, shopper } = whose;
  const theirs = and(
    eq(subscriptions.shopper, shopper),
    eq(subscriptions.mode, mode),
    eq(subscriptions.storefrontId, storefrontId),
  );
  const rows = await rt.db.orm.select().from(subscriptions).where(theirs);
  for (const { id, customer } of rows) {
    await actOn(rt, id, "cancel", "shop");
    await rt.db.write([
      rt.db.orm
        .update(subscriptions)
        .set({ shopper: ERASED, customer: withoutThem(customer) })
        .where(eq(subscriptions.id, id)),
    ]);
  }
  await rt.db.write([forgetShopper(rt, whose)]);
  return erase(rt, whose);
}
