import type { OrderState as State } from "#core/orders/paid";
import { Says } from "../parts/marks";
import { t } from "../words/pages/orders";

/** Whether an order is paid, as people say it; money that is only held is not paid yet. */
export function OrderState({
  order: { state, held, paid, refunded },
}: {
  order: { state: State; held: number; paid: number; refunded: number };
}) {
  if (state === "cancelled") return <Says meaning="none">{t("cancelled")}</Says>;
  if (state === "open")
    return <Says meaning="waits">{t("not-paid", { hasHeld: held + paid > 0 ? "yes" : "no" })}</Says>;
  if (refunded > 0)
    return <Says meaning="none">{t("refunded-in-part", { refunded: refunded >= paid ? "yes" : "no" })}</Says>;
  return <Says meaning="proven">{t("paid", { paid: paid === 0 && held > 0 ? "yes" : "no" })}</Says>;
}
