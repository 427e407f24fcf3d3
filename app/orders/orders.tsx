import { orderStates } from "#core/orders/paid";
import { modeShown } from "#server/connections/connections";
import { listOrdersHere, type OrderFilter } from "#server/orders/list";
import { runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { localeOf, mustFindStorefront } from "../frame/storefront-context";
import { Amount } from "../parts/amount";
import { type Column, DataTable } from "../parts/data-table";
import { Filters } from "../parts/filters";
import { Field, Select } from "../parts/form";
import { useLive } from "../parts/live";
import { Says } from "../parts/marks";
import { Mono, PageHead, Sheet, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { When } from "../parts/when";
import { OrderState } from "./order-state";
import type { Route } from "./+types/orders";

export const meta: Route.MetaFunction = () => [{ title: "Orders · Zahlung" }];

const states = [...orderStates, "refunded"] as const;

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const storefront = await mustFindStorefront(context, params.storefront);
  const rt = context.get(runtimeContext);
  const search = new URL(request.url).searchParams;
  const mode = await modeShown(rt, storefront.id, search.get("mode"));
  const filter: OrderFilter = {
    mode,
    state: states.find((one) => one === search.get("state")) ?? null,
    query: (search.get("q") ?? "").trim().slice(0, 80),
    after: search.get("after"),
  };
  const page = await listOrdersHere(rt, storefront.id, filter);
  return {
    looking: { mode, may: ["test", "live"] } satisfies Looking,
    filter,
    locale: localeOf(storefront),
    ...page,
  };
}

type View = Route.ComponentProps["loaderData"];

function columnsOf(locale: string): Column<View["rows"][number]>[] {
  const sum = (amount: number, currency: string) => (
    <Amount amount={amount} currency={currency} locale={locale} />
  );
  return [
    { id: "order", head: "Order", always: true, cell: (row) => <Mono>{row.reference}</Mono> },
    { id: "at", head: "When", cell: (row) => <When at={row.createdAt} /> },
    { id: "state", head: "State", cell: (row) => <OrderState order={row} /> },
    { id: "stage", head: "Order stage", wide: true, cell: (row) => row.stage },
    { id: "due", head: "Due", amount: true, always: true, cell: (row) => sum(row.due, row.currency) },
    {
      id: "held",
      head: "Held",
      amount: true,
      wide: true,
      cell: (row) => row.held > 0 && sum(row.held, row.currency),
    },
    { id: "paid", head: "Paid", amount: true, cell: (row) => row.paid > 0 && sum(row.paid, row.currency) },
    {
      id: "refunded",
      head: "Refunded",
      amount: true,
      wide: true,
      cell: (row) => row.refunded > 0 && sum(row.refunded, row.currency),
    },
  ];
}

export default function Orders({ loaderData, params }: Route.ComponentProps) {
  const { filter, rows, next, locale } = loaderData;
  const at = `/s/${params.storefront}/operate/orders`;
  useLive(filter.after === null && filter.query === "", 4_000);
  return (
    <>
      <PageHead>
        <h1>Orders</h1>
      </PageHead>
      <Sheet>
        <Stack>
          <Filters label="Orders" keep={["mode", "columns"]}>
            <TextBox label="Order or e-mail" name="q" defaultValue={filter.query} maxLength={80} />
            <Field>
              State
              <Select name="state" defaultValue={filter.state ?? ""}>
                <option value="">Any</option>
                {states.map((state) => (
                  <option key={state} value={state}>
                    {state === "open" ? "not paid" : state}
                  </option>
                ))}
              </Select>
            </Field>
          </Filters>
          <DataTable
            label="Orders"
            columns={columnsOf(locale)}
            rows={rows}
            rowKey={(row) => row.id}
            rowTo={(row) => `${at}/${row.id}`}
            next={next}
            first={filter.after === null}
            empty={
              <Says meaning="none">
                {filter.query || filter.state
                  ? `no order in ${filter.mode} fits`
                  : `the shop has opened no order in ${filter.mode} yet`}
              </Says>
            }
          />
        </Stack>
      </Sheet>
    </>
  );
}
