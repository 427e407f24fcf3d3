import type { Checkout, Payment } from "../database/rows";
import { openKinds } from "../findings/findings";
import { paymentForShop } from "../outbox/news";
import type { Runtime } from "../runtime";

type Whose = Pick<Checkout, "id" | "reference">;

/** Payments as the shop API writes them, with what waits for somebody about each. */
export async function paymentsNow(rt: Runtime, payments: readonly Payment[]) {
  const kinds = await openKinds(
    rt,
    payments.map(({ id }) => id),
  );
  return payments.map((one) =>
    paymentForShop(one, { id: one.checkoutId, reference: one.orderReference }, kinds.get(one.id) ?? []),
  );
}

/** The same of one. */
export const paymentNow = async (rt: Runtime, payment: Payment, checkout: Whose) =>
  paymentForShop(payment, checkout, (await openKinds(rt, [payment.id])).get(payment.id) ?? []);
