import { and, eq, ne } from "drizzle-orm";
import type { Consent } from "#core/instruments";
import type { Statement } from "../database/open";
import type { Checkout } from "../database/rows";
import { subscriptions } from "../database/schema";
import { askFor } from "../jobs/jobs";
import type { Runtime } from "../runtime";

/** What subscriptions of a storefront go by in the background. */
export const repeatLane = (storefrontId: string): string => `repeat:${storefrontId}`;

/** The statements that have a subscription looked at again once something of one of its orders has moved. */
export const subscriptionFollows = (
  rt: Pick<Runtime, "ids" | "now">,
  { order, storefrontId }: Pick<Checkout, "order" | "storefrontId">,
): Statement[] =>
  order.subscription
    ? [askFor(rt, { kind: "repeat", key: order.subscription.id, lane: repeatLane(storefrontId) })]
    : [];

/** The statements that write down what a shopper agreed to as they pressed to pay. */
export const mandated = (
  rt: Pick<Runtime, "db">,
  { order }: Pick<Checkout, "order">,
  mandate: Consent,
): Statement[] =>
  order.subscription
    ? [
        rt.db.orm
          .update(subscriptions)
          .set({ mandate })
          .where(and(eq(subscriptions.id, order.subscription.id), ne(subscriptions.state, "ended"))),
      ]
    : [];
