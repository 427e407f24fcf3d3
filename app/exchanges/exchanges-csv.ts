import { connectionsOf } from "#server/connections/connections";
import { exchangeFilter, exportedExchanges } from "#server/exchanges/list";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { csvResponse } from "../parts/csv";
import { tell } from "../words/spoken.server";
import type { Route } from "./+types/exchanges-csv";
import { t } from "../words/pages/exchanges-answers";

/** The exchanges that the page's filter lets through, one line each. Times are UTC. */
export async function loader({ request, params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, params.storefront);
  const [connections, rows] = await Promise.all([
    connectionsOf(rt, storefront.id),
    exportedExchanges(rt, storefront.id, exchangeFilter(new URL(request.url).searchParams)),
  ]);
  const names = new Map(connections.map(({ connection }) => [connection.id, connection.name]));
  return csvResponse(
    `${storefront.id}-exchanges`,
    [
      t("time"),
      t("mode"),
      t("account"),
      t("operation"),
      t("order"),
      t("payment"),
      t("status"),
      t("result"),
      t("milliseconds"),
    ],
    rows.map((row) => [
      new Date(row.at).toISOString(),
      row.mode,
      names.get(row.connectionId ?? "") ?? "",
      tell(row.label),
      row.order,
      row.paymentId,
      row.response?.status ?? null,
      row.ok ? t("answered-well") : tell(row.outcome ?? t("refused-or-failed")),
      row.duration,
    ]),
  );
}
