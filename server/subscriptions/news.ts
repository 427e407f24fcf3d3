import { decimalText } from "#core/money/money";
import type { SubscriptionEvent } from "#core/subscriptions/event";
import type { Statement } from "../database/open";
import type { Subscription } from "../database/rows";
import { newsOfSubscription } from "../outbox/news";
import type { Runtime } from "../runtime";

/** How the shop API and the news write a subscription. Amounts are decimal text; `version` grows with each change. */
export function subscriptionForShop(one: Subscription) {
  const { terms, quantity, amount, currency } = one;
  return {
    subscription: one.id,
    reference: one.reference,
    mode: one.mode,
    shopper: one.shopper,
    plan: terms.plan,
    quantity,
    state: one.state,
    ending: one.ending,
    ends: one.ends,
    currency,
    amount: decimalText({ amount, currency }),
    nextAt: one.nextDue === null ? null : new Date(one.nextDue).toISOString(),
    at: new Date(one.updatedAt).toISOString(),
    version: one.version,
  };
}

/** The statements that tell the shop what happened to a subscription; nobody is told of what is tried by ourselves. */
export const tellShop = (
  rt: Runtime,
  one: Subscription,
  event: SubscriptionEvent,
  more: { order?: string; address?: string } = {},
): Statement[] =>
  one.origin === "rehearsal"
    ? []
    : newsOfSubscription(rt, one, { subscription: subscriptionForShop(one), happened: event, ...more });
