import { useLocation } from "react-router";
import { supportBundle } from "#core/exchanges/support";
import type { Mode } from "#core/mode";
import { operationNames } from "#core/profiles/profile";
import { connectionsOf } from "#server/connections/connections";
import { keySidesOf } from "#server/connections/key-sides";
import { exchangeFilter, listExchanges } from "#server/exchanges/list";
import { operationLabels } from "#server/gateway/gateway";
import { runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { mustFindStorefront } from "../frame/storefront-context";
import { AccountFilter } from "../parts/account-filter";
import { type Column, DataTable } from "../parts/data-table";
import { DateBox } from "../parts/date-box";
import { Filters } from "../parts/filters";
import { useLive } from "../parts/live";
import { ModePlate, Says } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { PageHead, Sheet, Small, Stack } from "../parts/sheet";
import { secondsText, When } from "../parts/when";
import { ExchangeSides } from "./exchange-sides";
import { spoken, tell } from "../words/spoken.server";
import type { Route } from "./+types/exchanges";
import { t } from "../words/pages/exchanges";

export const meta: Route.MetaFunction = () => [{ title: t("exchanges-zahlung") }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, params.storefront);
  const search = new URL(request.url).searchParams;
  const filter = exchangeFilter(search);
  const [connections, page] = await Promise.all([
    connectionsOf(rt, storefront.id),
    listExchanges(rt, storefront.id, filter, search.get("after")),
  ]);
  const keys = await keySidesOf(rt, connections);
  const accountOf = (connectionId: string | null, mode: Mode) =>
    keys.get(connectionId ?? "")?.[mode].check?.account?.account ?? null;
  const byId = new Map(connections.map((one) => [one.connection.id, one]));
  const open = search.get("open");
  return spoken({
    looking: { mode: filter.mode ?? "both", may: ["test", "live", "both"] } satisfies Looking,
    filter,
    connections: connections.map(({ connection }) => ({ id: connection.id, name: connection.name })),
    operations: [
      ...operationNames.map((id) => ({ id: id as string, words: operationLabels[id] })),
      { id: "token", words: t("fetch-an-access-token") },
      { id: "link", words: t("link-an-account") },
      { id: "domain", words: t("look-at-the-domain") },
    ],
    next: page.next,
    first: search.get("after") === null,
    rows: page.rows.map(({ request: asked, response, ...row }) => {
      const where = byId.get(row.connectionId ?? "");
      const references = [row.paymentId, row.id].filter((one): one is string => one !== null);
      return {
        ...row,
        connection: where?.connection.name ?? "",
        says: tell(String(response?.status ?? "") || row.outcome || t("no-answer")),
        // What was said is sent for the one that is open, not for all.
        sides:
          row.id === open
            ? {
                request: asked,
                response,
                bundle: supportBundle(
                  where?.profile.name ?? "",
                  row.mode,
                  accountOf(row.connectionId, row.mode),
                  references,
                  { ...spoken(row), request: asked, response },
                ),
              }
            : null,
      };
    }),
  });
}

type ExchangeView = Route.ComponentProps["loaderData"]["rows"][number];

const columns: Column<ExchangeView>[] = [
  { id: "at", head: t("when"), always: true, cell: (row) => <When at={row.at} /> },
  { id: "mode", head: t("mode"), wide: true, cell: (row) => <ModePlate mode={row.mode} /> },
  { id: "provider", head: t("account"), wide: true, cell: (row) => row.connection },
  { id: "operation", head: t("operation"), cell: (row) => row.label },
  { id: "order", head: t("order"), wide: true, cell: (row) => row.order },
  {
    id: "result",
    head: t("result"),
    cell: (row) => <Says meaning={row.ok ? "proven" : "wrong"}>{row.says}</Says>,
  },
  {
    id: "took",
    head: t("took"),
    amount: true,
    cell: (row) => (row.duration === null ? "" : secondsText(row.duration)),
  },
];

export default function Exchanges({ loaderData, params }: Route.ComponentProps) {
  const { rows, next, first, filter, connections, operations } = loaderData;
  const { search } = useLocation();
  const here = `/s/${params.storefront}/exchanges`;
  const query = new URLSearchParams(search);
  const openId = query.get("open");
  const open = rows.find((one) => one.id === openId);
  useLive(first && openId === null, 4_000);
  const toggled = (id: string) => {
    const to = new URLSearchParams(search);
    if (id === openId) to.delete("open");
    else to.set("open", id);
    return `?${to.toString()}`;
  };
  return (
    <>
      <PageHead>
        <div>
          <h1>{t("exchanges")}</h1>
          <p>{t("every-message-between-zahlung-and")}</p>
        </div>
        <a href={`${here}.har${search}`} download>
          {t("export-as-har")}
        </a>
      </PageHead>
      <Sheet>
        <Stack>
          <Filters label={t("exchanges")} keep={["mode", "columns"]}>
            <AccountFilter accounts={connections} chosen={filter.connection} />
            <SelectBox
              label={t("operation")}
              name="operation"
              defaultValue={filter.operation ?? ""}
              choices={[
                { id: "", name: t("any") },
                ...operations.map((one) => ({ id: one.id, name: one.words })),
              ]}
            />
            <SelectBox
              label={t("result")}
              name="result"
              defaultValue={filter.result ?? ""}
              choices={[
                { id: "", name: t("any") },
                { id: "good", name: t("answered-well") },
                { id: "bad", name: t("refused-or-failed") },
              ]}
            />
            <DateBox label={t("from")} name="from" defaultValue={query.get("from") ?? ""} />
            <DateBox label={t("to")} name="to" defaultValue={query.get("to") ?? ""} />
          </Filters>
          <DataTable
            label={t("exchanges")}
            columns={columns}
            rows={rows}
            rowKey={(row) => row.id}
            rowTo={(row) => toggled(row.id)}
            next={next}
            first={first}
            csv={`${here}.csv`}
            empty={<Small>{t("no-exchange-fits")}</Small>}
            opened={
              open?.sides
                ? {
                    key: open.id,
                    content: (
                      <ExchangeSides
                        {...open.sides}
                        payment={
                          open.paymentId
                            ? {
                                to: `/s/${params.storefront}/operate/${open.paymentId}`,
                                order: open.order ?? "it",
                              }
                            : null
                        }
                      />
                    ),
                  }
                : null
            }
          />
        </Stack>
      </Sheet>
    </>
  );
}
