import type { OrderState as State } from "#core/orders/paid";
import { Says } from "../parts/marks";

/** Whether an order is paid, as people say it; money that is only held is not paid yet. */
export function OrderState({
  order: { state, held, paid, refunded },
}: {
  order: { state: State; held: number; paid: number; refunded: number };
}) {
  if (state === "cancelled") return <Says meaning="none">cancelled</Says>;
  if (state === "open") return <Says meaning="waits">{held + paid > 0 ? "paid in part" : "not paid"}</Says>;
  if (refunded > 0) return <Says meaning="none">{refunded >= paid ? "refunded" : "refunded in part"}</Says>;
  return <Says meaning="proven">{paid === 0 && held > 0 ? "held" : "paid"}</Says>;
}
