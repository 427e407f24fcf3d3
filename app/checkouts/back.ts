import { data, redirect } from "react-router";
import { checkoutByToken } from "#server/checkouts/checkouts";
import { takeToken } from "#server/checkouts/device";
import { lookUp } from "#server/checkouts/look-up";
import { keepExchange } from "#server/exchanges/exchanges";
import { paymentOf } from "#server/payments/record";
import { runtimeContext } from "../context";
import type { Route } from "./+types/back";

/** Where a provider's page sends the shopper back to: what came of it is looked up, never taken from the address. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const checkout = await checkoutByToken(rt, params.token);
  if (!checkout) throw data("There is no checkout at this address.", { status: 404 });
  const payment = checkout.activePaymentId ? await paymentOf(rt, checkout.activePaymentId) : null;
  if (payment?.state === "pending" || payment?.state === "created") {
    await keepExchange(rt, {
      at: rt.now(),
      from: "shopper",
      to: "zahlung",
      label: "comes back from the provider",
      mode: checkout.mode,
      checkoutId: checkout.id,
      paymentId: payment.id,
      ok: true,
    });
    await lookUp(rt, payment);
  }
  if (checkout.deviceAsk) await takeToken(rt, checkout);
  return redirect(`/pay/${params.token}`);
}
