import { decimalText } from "#core/money/money";
import { stateWords } from "#core/payments/facts";
import { exportedPayments } from "#server/payments/list";
import { offerNames } from "#server/offers/names";
import { runtimeContext } from "../context";
import { mustStandAt } from "../frame/storefront-context";
import { csvResponse } from "../parts/csv";
import { paymentFilter } from "./filter";
import type { Route } from "./+types/payments-csv";
import { t } from "../words/pages/payments-answers";

/** The payments that the page's filter lets through, as a file. Times are UTC. */
export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const rt = context.get(runtimeContext);
  const filter = await paymentFilter(rt, now, request);
  const rows = await exportedPayments(rt, now.storefront.id, filter);
  const offers = offerNames(now);
  const accounts = new Map(now.connections.map(({ connection }) => [connection.id, connection.name]));
  return csvResponse(
    `${now.storefront.id}-payments`,
    [
      t("order"),
      t("payment"),
      t("time"),
      t("mode"),
      t("state"),
      t("order-stage"),
      t("method"),
      t("account"),
      t("paid-with"),
      t("currency"),
      t("amount"),
      t("captured"),
      t("refunded"),
      t("dispute"),
      t("answer-by"),
    ],
    rows.map((row) => [
      row.orderReference,
      row.id,
      new Date(row.createdAt).toISOString(),
      row.mode,
      stateWords(row.state),
      row.stage,
      offers.get(row.offerId) ?? "",
      accounts.get(row.connectionId ?? "") ?? "",
      row.instrument,
      row.currency,
      decimalText(row),
      decimalText({ amount: row.captured, currency: row.currency }),
      decimalText({ amount: row.refunded, currency: row.currency }),
      row.dispute,
      row.disputeDue === null ? "" : new Date(row.disputeDue).toISOString(),
    ]),
  );
}
