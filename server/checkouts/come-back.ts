import { said } from "#core/said";
import type { Checkout } from "../database/rows";
import { keepExchange } from "../exchanges/exchanges";
import { paymentOf } from "../payments/record";
import type { Runtime } from "../runtime";
import { takeToken } from "./device";
import { lookUp } from "./look-up";

/** The shopper comes back from a provider's page or a device: what came of it there is looked up at once. */
export async function comeBack(rt: Runtime, checkout: Checkout): Promise<void> {
  const payment = checkout.activePaymentId ? await paymentOf(rt, checkout.activePaymentId) : null;
  if (payment?.state === "pending" || payment?.state === "created") {
    await keepExchange(rt, {
      at: rt.now(),
      from: "shopper",
      to: "zahlung",
      label: said("checkouts.comes-back"),
      mode: checkout.mode,
      checkoutId: checkout.id,
      paymentId: payment.id,
      ok: true,
    });
    await lookUp(rt, payment);
  }
  if (checkout.deviceAsk) await takeToken(rt, checkout);
}
