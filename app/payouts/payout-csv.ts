import { data } from "react-router";
import { decimalText } from "#core/money/money";
import { exportedEntries } from "#server/payouts/list";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { csvResponse } from "../parts/csv";
import type { Route } from "./+types/payout-csv";
import { t } from "../words/pages/payouts-answers";

/** What a payout is made of, as a file. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const { id } = await mustFindStorefront(context, params.storefront);
  const found = await exportedEntries(context.get(runtimeContext), id, params.payout);
  if (!found) throw data(t("there-is-no-such-payout"), { status: 404 });
  const { payout, entries } = found;
  const inPayout = (amount: number) => decimalText({ amount, currency: payout.currency });
  return csvResponse(
    `payout-${payout.id}`,
    [
      ...[
        t("what"),
        t("when"),
        t("order"),
        t("payment"),
        t("our-reference"),
        t("providers-reference"),
        t("currency"),
        t("amount"),
      ],
      ...[t("payout-currency"), t("kept"), t("paid-out")],
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
