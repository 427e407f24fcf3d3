import { harOf } from "#core/exchanges/har";
import { exchangeFilter, exportedExchanges } from "#server/exchanges/list";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/har";

/** The exchanges that the page's filter lets through, as a HAR 1.2 file. */
export async function loader({ request, params, context }: Route.LoaderArgs) {
  const storefront = await mustFindStorefront(context, params.storefront);
  const filter = exchangeFilter(new URL(request.url).searchParams);
  const rows = await exportedExchanges(context.get(runtimeContext), storefront.id, filter);
  return new Response(JSON.stringify(harOf(spoken(rows), "1"), null, 2), {
    headers: {
      "content-type": "application/json; charset=utf-8",
      "content-disposition": `attachment; filename="${storefront.id}-exchanges.har"`,
    },
  });
}
