import { data } from "react-router";
import { decimalText } from "#core/money/money";
import { exportedEntries } from "#server/payouts/list";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { csvResponse } from "../parts/csv";
import type { Route } from "./+types/payout-csv";

/** What a payout is made of, as a file. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const { id } = await mustFindStorefront(context, params.storefront);
  const found = await exportedEntries(context.get(runtimeContext), id, params.payout);
  if (!found) throw data("There is no such payout here.", { status: 404 });
  const { payout, entries } = found;
  const inPayout = (amount: number) => decimalText({ amount, currency: payout.currency });
  return csvResponse(
    `payout-${payout.id}`,
    [
      ...["What", "When", "Order", "Payment", "Our reference", "Provider’s reference", "Currency", "Amount"],
      ...["Payout currency", "Kept", "Paid out"],
    ],
    entries.map((row) => [
      row.kind === "other" ? row.word : row.kind,
      row.at === null ? null : new Date(row.at).toISOString(),
      row.order,
      row.paymentId,
      row.reference,
      row.ref,
      row.currency,
      decimalText(row),
      payout.currency,
      inPayout(row.fee),
      inPayout(row.net),
    ]),
  );
}
