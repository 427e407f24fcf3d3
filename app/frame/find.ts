import { filterFrom, listPayments } from "#server/payments/list";
import { moneyText } from "#core/money/money";
import { runtimeContext } from "../context";
import { localeOf, mustFindStorefront } from "./storefront-context";
import type { Route } from "./+types/find";
import { t } from "../words/pages/palette";

/** A payment that the palette leads to. */
export interface Found {
  id: string;
  order: string;
  says: string;
}

/** Payments that words typed into the palette lead to, in test and live. */
export async function loader({ request, params, context }: Route.LoaderArgs) {
  const storefront = await mustFindStorefront(context, params.storefront);
  const { searchParams } = new URL(request.url);
  const filter = filterFrom(searchParams, "both");
  if (filter.query === "") return Response.json([]);
  const { rows } = await listPayments(context.get(runtimeContext), storefront.id, filter);
  const locale = localeOf(storefront);
  const found = rows.slice(0, 8).map((row): Found => ({
    id: row.id,
    order: row.orderReference,
    says: `${row.mode === "test" ? t("test") : ""}${moneyText(row, locale)}${row.instrument ? `, ${row.instrument}` : ""}`,
  }));
  return Response.json(found, { headers: { "cache-control": "no-store" } });
}
