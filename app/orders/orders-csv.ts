import { decimalText } from "#core/money/money";
import { exportedOrders } from "#server/orders/list";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { csvResponse } from "../parts/csv";
import { orderFilter } from "./order-filter";
import type { Route } from "./+types/orders-csv";
import { t } from "../words/pages/orders-answers";

/** The orders that the page's filter lets through, as a file, the newest first. Times are UTC. */
export async function loader({ request, params, context }: Route.LoaderArgs) {
  const storefront = await mustFindStorefront(context, params.storefront);
  const rt = context.get(runtimeContext);
  const rows = await exportedOrders(rt, storefront.id, await orderFilter(rt, storefront, request));
  return csvResponse(
    `${storefront.id}-orders`,
    [
      t("order"),
      t("time"),
      t("mode"),
      t("state"),
      t("order-stage"),
      t("currency"),
      t("due"),
      t("held"),
      t("paid"),
      t("refunded"),
    ],
    rows.map(({ reference, createdAt, mode, state, stage, currency, due, held, paid, refunded }) => [
      ...[reference, new Date(createdAt).toISOString(), mode, state, stage, currency],
      ...[due, held, paid, refunded].map((amount) => decimalText({ amount, currency })),
    ]),
  );
}
