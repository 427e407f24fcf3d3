import { decimalText } from "#core/money/money";
import { modeShown } from "#server/connections/connections";
import { exportedSubscriptions } from "#server/subscriptions/list";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { csvResponse } from "../parts/csv";
import { filterIn } from "./filter";
import { endingNames, rhythmWords, stateNames } from "./words";
import type { Route } from "./+types/subscriptions-csv";
import { t } from "../words/pages/subscriptions-answers";

/** The subscriptions that the page's filter lets through, as a file. Times are UTC. */
export async function loader({ request, params, context }: Route.LoaderArgs) {
  const storefront = await mustFindStorefront(context, params.storefront);
  const rt = context.get(runtimeContext);
  const search = new URL(request.url).searchParams;
  const mode = await modeShown(rt, storefront.id, search.get("mode"));
  const rows = await exportedSubscriptions(rt, storefront.id, filterIn(search, mode));
  return csvResponse(
    `${storefront.id}-subscriptions`,
    [
      ...[
        t("number"),
        t("subscription"),
        t("mode"),
        t("shopper"),
        t("plan"),
        t("quantity"),
        t("how-often"),
        t("state"),
        t("because"),
      ],
      ...[t("begun"), t("next-charge"), t("currency"), t("each-time"), t("periods-charged")],
    ],
    rows.map((row) => [
      ...[row.reference, row.id, row.mode, row.shopper, row.terms.plan, row.quantity],
      ...[rhythmWords(row.terms.rhythm), stateNames[row.state], row.ending && endingNames[row.ending]],
      new Date(row.createdAt).toISOString(),
      row.nextDue === null ? null : new Date(row.nextDue).toISOString(),
      ...[row.currency, decimalText({ amount: row.amount, currency: row.currency }), row.charged],
    ]),
  );
}
