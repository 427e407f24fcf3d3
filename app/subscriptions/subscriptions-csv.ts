import { decimalText } from "#core/money/money";
import { modeShown } from "#server/connections/connections";
import { exportedSubscriptions } from "#server/subscriptions/list";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { csvResponse } from "../parts/csv";
import { filterIn } from "./filter";
import { endingNames, rhythmWords, stateNames } from "./words";
import type { Route } from "./+types/subscriptions-csv";

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
      ...["Number", "Subscription", "Mode", "Shopper", "Plan", "Quantity", "How often", "State", "Because"],
      ...["Begun", "Next charge", "Currency", "Each time", "Periods charged"],
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
