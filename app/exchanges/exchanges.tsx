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

export const meta: Route.MetaFunction = () => [{ title: "Exchanges · Zahlung" }];

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
      { id: "token", words: "fetch an access token" },
      { id: "link", words: "link an account" },
      { id: "domain", words: "look at the domain" },
    ],
    next: page.next,
    first: search.get("after") === null,
    rows: page.rows.map(({ request: asked, response, ...row }) => {
      const where = byId.get(row.connectionId ?? "");
      const references = [row.paymentId, row.id].filter((one): one is string => one !== null);
      return {
        ...row,
        connection: where?.connection.name ?? "",
        says: tell(String(response?.status ?? "") || row.outcome || "no answer"),
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
  { id: "at", head: "When", always: true, cell: (row) => <When at={row.at} /> },
  { id: "mode", head: "Mode", wide: true, cell: (row) => <ModePlate mode={row.mode} /> },
  { id: "provider", head: "Account", wide: true, cell: (row) => row.connection },
  { id: "operation", head: "Operation", cell: (row) => row.label },
  { id: "order", head: "Order", wide: true, cell: (row) => row.order },
  {
    id: "result",
    head: "Result",
    cell: (row) => <Says meaning={row.ok ? "proven" : "wrong"}>{row.says}</Says>,
  },
  {
    id: "took",
    head: "Took",
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
          <h1>Exchanges</h1>
          <p>Every message between Zahlung and the providers. Secrets and card numbers are masked.</p>
        </div>
        <a href={`${here}.har${search}`} download>
          Export as HAR
        </a>
      </PageHead>
      <Sheet>
        <Stack>
          <Filters label="Exchanges" keep={["mode", "columns"]}>
            <AccountFilter accounts={connections} chosen={filter.connection} />
            <SelectBox
              label="Operation"
              name="operation"
              defaultValue={filter.operation ?? ""}
              choices={[
                { id: "", name: "Any" },
                ...operations.map((one) => ({ id: one.id, name: one.words })),
              ]}
            />
            <SelectBox
              label="Result"
              name="result"
              defaultValue={filter.result ?? ""}
              choices={[
                { id: "", name: "Any" },
                { id: "good", name: "Answered well" },
                { id: "bad", name: "Refused or failed" },
              ]}
            />
            <DateBox label="From" name="from" defaultValue={query.get("from") ?? ""} />
            <DateBox label="To" name="to" defaultValue={query.get("to") ?? ""} />
          </Filters>
          <DataTable
            label="Exchanges"
            columns={columns}
            rows={rows}
            rowKey={(row) => row.id}
            rowTo={(row) => toggled(row.id)}
            next={next}
            first={first}
            csv={`${here}.csv`}
            empty={<Small>No exchange fits.</Small>}
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
