import type { Consent } from "#core/instruments";
import type { Mode } from "#core/mode";
import { said } from "#core/said";
import type { Terms } from "#core/subscriptions/agreed";
import { type Customer, orderOf } from "#core/subscriptions/order";
import { dayAt } from "#core/subscriptions/schedule";
import { firstSum, regularSum, termsOf } from "#core/subscriptions/terms";
import { newCheckout } from "../checkouts/checkouts";
import type { Statement } from "../database/open";
import { insertRow } from "../database/prepared";
import type { Checkout, Subscription } from "../database/rows";
import { type Origin, subscriptions } from "../database/schema";
import { candidatesIn } from "../offers/candidates";
import type { Runtime } from "../runtime";
import { subscriptionFollows } from "./follow";
import type { StorefrontNow } from "../storefronts/now";

export interface NewSubscription {
  mode: Mode;
  origin: Origin;
  reference: string;
  shopper: string;
  customer: Customer;
  terms: Terms;
  quantity: number;
  /** Something the shopper has kept that is charged at once, with the words in which they agreed to that. */
  charge?: { instrumentId: string; mandate: Consent };
}

/**
 * The terms of a plan on a storefront in a shopper's currency and language: those of the first offer that has it, in the
 * order in which shoppers see them. Null where none has it in that currency.
 */
export const termsIn = (
  now: StorefrontNow,
  mode: Mode,
  planId: string,
  words: { currency: string; language: string },
): Terms | null => plansIn(now, mode, words).find(({ plan }) => plan === planId) ?? null;

/** The plans of a storefront that have a price in a currency, each once, in the order of the offers. */
export function plansIn(
  now: StorefrontNow,
  mode: Mode,
  { currency, language }: { currency: string; language: string },
): Terms[] {
  const found = new Map<string, Terms>();
  for (const { document } of candidatesIn(now, mode))
    for (const plan of document.repeats?.plans ?? []) {
      const terms = document.repeats && termsOf(plan, { currency, language }, document.repeats);
      if (terms && !found.has(plan.id)) found.set(plan.id, terms);
    }
  return [...found.values()];
}

/** A subscription that its shopper has still to pay for, with the checkout for that, and the statements that write both. */
export function newSubscription(
  rt: Runtime,
  { storefront }: Pick<StorefrontNow, "storefront">,
  { mode, origin, reference, shopper, customer, terms, quantity, charge }: NewSubscription,
): { subscription: Subscription; checkout: Checkout; statements: Statement[] } {
  const now = rt.now();
  const subscription: Subscription = {
    ...{ id: rt.ids.next("sub"), storefrontId: storefront.id, mode, origin, reference, shopper, customer },
    ...{ terms, quantity, amount: regularSum(terms, quantity).total, currency: terms.currency },
    ...{ state: "waiting", ending: null, offerId: null },
    ...{
      instrumentId: charge?.instrumentId ?? null,
      toldInstrument: null,
      toldEnds: null,
      mandate: charge?.mandate ?? null,
    },
    ...{ schedule: null, next: 0, nextDue: null, charged: 0, ends: false, version: 1 },
    ...{ createdAt: now, updatedAt: now, endedAt: null },
  };
  const { id } = subscription;
  const sum = firstSum(terms, quantity, dayAt(now, terms.timeZone).day);
  const order = orderOf(reference, customer, sum, {
    shopper,
    subscription: { id, terms, quantity, begins: true },
  });
  const { checkout, statements } = newCheckout(
    rt,
    { storefrontId: storefront.id, mode, origin, order, known: null },
    { at: now, from: "shop", to: "zahlung", label: said("subscriptions.opened"), ok: true },
  );
  return {
    subscription,
    checkout,
    statements: [
      insertRow(rt.db, subscriptions, subscription),
      ...statements,
      ...(charge ? subscriptionFollows(rt, checkout) : []),
    ],
  };
}
