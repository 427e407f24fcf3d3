import { eq } from "drizzle-orm";
import { wordingFor } from "#core/offers/offer";
import { orderView } from "#core/orders/view";
import { fold } from "#core/payments/fold";
import type { ReceiptKind } from "#core/receipts/receipts";
import type { ReceiptView } from "#core/receipts/view";
import { checkoutAddress } from "../checkouts/checkouts";
import { ownWords } from "../checkouts/own-words";
import { lookOf } from "../checkouts/view";
import type { Checkout, Fact, Payment } from "../database/rows";
import { offerRevisions } from "../database/schema";
import type { Runtime } from "../runtime";
import { storefrontOf } from "../storefronts/storefronts";
import { placedScene } from "../ways/offline/scene";
import { recordedOf } from "../payments/facts";

/** What there is to say about a payment now; null while it has come to nothing that a shopper would keep. */
export async function receiptView(
  rt: Runtime,
  checkout: Checkout,
  payment: Payment,
  kind?: ReceiptKind,
): Promise<ReceiptView | null> {
  const [storefront, look, [revision], known] = await Promise.all([
    storefrontOf(rt, checkout.storefrontId),
    lookOf(rt, checkout),
    rt.db.orm
      .select({ document: offerRevisions.document })
      .from(offerRevisions)
      .where(eq(offerRevisions.id, payment.revisionId)),
    recordedOf(rt, payment.id),
  ]);
  if (!storefront || !revision) return null;
  const amount = payment.held + payment.captured;
  const scene =
    payment.state === "pending" && payment.connectionId === null
      ? await placedScene(rt, checkout, payment)
      : null;
  const placed = scene?.name === "placed" ? scene : null;
  if (amount === 0 && !placed) return null;
  const { currency } = payment;
  const about = kind ?? (payment.refunded > 0 ? "refunded" : amount > 0 ? "paid" : "placed");
  return {
    kind: about,
    own:
      about === "placed" || about === "reminder"
        ? null
        : await ownWords(rt, checkout, about, storefront.name),
    mode: checkout.mode,
    storefront: storefront.name,
    look,
    order: orderView(checkout.order, payment.choiceFee),
    paidWith: wordingFor(revision.document, checkout.order.language).label,
    instrument: payment.instrument,
    paid: { amount, currency },
    paidAt: amount > 0 ? paidSince(known) : null,
    refunded: { amount: payment.refunded, currency },
    placed,
    address: receiptAddress(rt, checkout),
    origin: rt.settings.origin,
  };
}

/** Where a shopper sees the receipt of a checkout. */
export const receiptAddress = (rt: Runtime, checkout: Checkout): string =>
  `${checkoutAddress(rt, checkout)}/receipt`;

/** When money was there for the first time, by the facts in the order in which they came. */
function paidSince(known: readonly Fact[]): number | null {
  for (let count = 1; count <= known.length; count++) {
    const { held, captured } = fold(known.slice(0, count));
    if (held + captured > 0) return known[count - 1]?.at ?? null;
  }
  return null;
}
