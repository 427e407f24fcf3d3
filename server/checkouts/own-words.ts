import { desc, eq } from "drizzle-orm";
import { moneyText } from "#core/money/money";
import { type Outcome, saidAfter } from "#core/offers/afterwards";
import { askedOf } from "#core/orders/asked";
import { shopperLocale } from "#core/orders/view";
import type { Checkout } from "../database/rows";
import { offerRevisions, payments } from "../database/schema";
import type { Runtime } from "../runtime";

/** What the shop itself says to a shopper after an outcome, as the offer last paid with was then; null: nothing. */
export async function ownWords(
  rt: Runtime,
  { id, order }: Pick<Checkout, "id" | "order">,
  outcome: Outcome | null,
  shop: string,
): Promise<string | null> {
  if (outcome === null) return null;
  const [last] = await rt.db.orm
    .select({ document: offerRevisions.document, choiceFee: payments.choiceFee })
    .from(payments)
    .innerJoin(offerRevisions, eq(offerRevisions.id, payments.revisionId))
    .where(eq(payments.checkoutId, id))
    .orderBy(desc(payments.createdAt))
    .limit(1);
  const amount = askedOf(order) + (last?.choiceFee ?? 0);
  const total = moneyText({ amount, currency: order.currency }, shopperLocale(order));
  return saidAfter(last?.document.afterwards, order.language, outcome, {
    ...{ order: order.reference, total, shop },
  });
}
