import { creditorReference } from "#core/ways/offline/bank";
import type { OfflineTerms } from "#core/ways/offline/terms";
import { askedOf } from "#core/orders/asked";
import { claim, type Paid, whoWasFirst } from "../../checkouts/claim";
import { checkoutOf } from "../../checkouts/checkouts";
import { outlive } from "../../checkouts/outlive";
import type { Checkout, Payment } from "../../database/rows";
import type { payments } from "../../database/schema";
import { paymentOf, recordFacts } from "../../payments/record";
import type { Runtime } from "../../runtime";
import { type OfflineOffer, revisionFor } from "../../storefronts/now";
import { offlineUntil } from "./money";

const DAY = 86_400_000;

/** What a shopper quotes: a creditor reference where that is wanted and the order's number can be one, else the number itself. */
const quotedFor = (orderReference: string, { reference }: OfflineTerms): string =>
  (reference === "creditor" ? creditorReference(orderReference) : null) ?? orderReference;

/**
 * Places a checkout's order with an offer that no provider moves the money of: it is pending from now on, until somebody says
 * what came. The checkout stays open for as long as that is waited for. `choiceFee`: what choosing it adds, minor units.
 */
export async function placeOffline(
  rt: Runtime,
  checkout: Checkout,
  one: OfflineOffer,
  choiceFee: number,
): Promise<Paid> {
  const revision = revisionFor(one, checkout.mode);
  const terms = revision?.document.offline;
  if (!revision || !terms) return { kind: "refused", because: "not-offered" };
  const now = rt.now();
  const id = rt.ids.next("pay");
  const amount = askedOf(checkout.order) + choiceFee;
  const payment: typeof payments.$inferInsert = {
    ...{ id, checkoutId: checkout.id, storefrontId: checkout.storefrontId },
    ...{ connectionId: null, keySetId: null, profileVersionId: null },
    ...{ offerId: one.offer.id, revisionId: revision.id, methodId: one.offer.methodId },
    ...{ mode: checkout.mode, origin: checkout.origin },
    reference: `z-${id.slice(4)}`,
    orderReference: checkout.reference,
    providerRef: quotedFor(checkout.reference, terms),
    dueAt: now + terms.dueDays * DAY,
    ...{ amount, choiceFee, currency: checkout.order.currency, capture: "at-once", state: "created" },
    ...{ authorised: 0, captured: 0, refunded: 0, version: 1, parts: {}, createdAt: now, updatedAt: now },
  };
  if (!(await claim(rt, checkout, payment, []))) return whoWasFirst(rt, checkout);
  const fact = (key: string) => ({ key, source: "zahlung" as const, at: now });
  const placed = await recordFacts(rt, id, [
    { ...fact("zahlung:expected"), statement: { object: "expectation", id: "all", amount } },
    { ...fact("zahlung:placed"), statement: { object: "attempt", state: "pending" } },
  ]);
  const fresh = (await checkoutOf(rt, checkout.id)) ?? checkout;
  const written = placed?.payment ?? ((await paymentOf(rt, id)) as Payment);
  await rt.db.write([outlive(rt, fresh, await offlineUntil(rt, written))]);
  return { kind: "payment", payment: written };
}
