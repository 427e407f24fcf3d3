import { connectionsOf, modeShown } from "#server/connections/connections";
import { isWebhookResult, listWebhooks, MOST_EXPORTED } from "#server/intake/list";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { csvResponse } from "../parts/csv";
import { outcomeWords } from "./outcome-words";
import type { Route } from "./+types/webhooks-csv";
import { t } from "../words/pages/intake-answers";

/** The webhooks that the page's filter lets through, one line each. Times are UTC. */
export async function loader({ request, params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, params.storefront);
  const search = new URL(request.url).searchParams;
  const mode = await modeShown(rt, storefront.id, search.get("mode"));
  const result = search.get("result");
  const [connections, { rows }] = await Promise.all([
    connectionsOf(rt, storefront.id),
    listWebhooks(rt, storefront.id, mode, null, {
      connection: search.get("connection") || null,
      result: isWebhookResult(result) ? result : null,
      most: MOST_EXPORTED,
    }),
  ]);
  const names = new Map(connections.map(({ connection }) => [connection.id, connection.name]));
  return csvResponse(
    `${storefront.id}-webhooks-${mode}`,
    [t("time"), t("account"), t("event"), t("what-became-of-it"), t("order"), t("payment"), t("message")],
    rows.map((row) => [
      new Date(row.receivedAt).toISOString(),
      names.get(row.connectionId) ?? "",
      row.event,
      outcomeWords(row),
      row.order,
      row.paymentId,
      row.messageId,
    ]),
  );
}
