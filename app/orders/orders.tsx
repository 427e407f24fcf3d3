import { useLocation } from "react-router";
import { decimalText } from "#core/money/money";
import { offersToChoose } from "#server/offers/names";
import { listOrdersHere } from "#server/orders/list";
import { viewsOf } from "#server/views/views";
import { runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { localeOf, mustFindStorefront, mustStandAt } from "../frame/storefront-context";
import { AccountFilter } from "../parts/account-filter";
import { Amount } from "../parts/amount";
import { type Column, DataTable } from "../parts/data-table";
import { DateBox } from "../parts/date-box";
import { Filters } from "../parts/filters";
import { useLive } from "../parts/live";
import { Says } from "../parts/marks";
import { OfferFilter } from "../parts/offer-filter";
import { SelectBox } from "../parts/select-box";
import { Mono, PageHead, Sheet, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { When } from "../parts/when";
import { mustOperate } from "../people/session";
import { keepView } from "../views/keep-view";
import { SavedViews } from "../views/saved-views";
import { orderFilter } from "./order-filter";
import { OrderState } from "./order-state";
import { stateChoices } from "./state-choices";
import type { Route } from "./+types/orders";
import { t } from "../words/pages/orders";

export const meta: Route.MetaFunction = () => [{ title: t("orders-zahlung") }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const { storefront } = now;
  const rt = context.get(runtimeContext);
  const filter = await orderFilter(rt, storefront, request);
  const [page, views] = await Promise.all([
    listOrdersHere(rt, storefront.id, filter),
    viewsOf(rt, storefront.id, "orders"),
  ]);
  const locale = localeOf(storefront);
  const currency = storefront.currencies[0] ?? "EUR";
  return {
    looking: { mode: filter.mode, may: ["test", "live"] } satisfies Looking,
    ...{ filter, locale, currency },
    amount: filter.amount === null ? "" : decimalText({ amount: filter.amount, currency }),
    offers: offersToChoose(now),
    accounts: now.connections.map(({ connection }) => ({ id: connection.id, name: connection.name })),
    views: views.map(({ id, name, query }) => ({ id, name, query })),
    ...page,
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  return keepView(rt, person, storefront, "orders", await request.formData());
}

type View = Route.ComponentProps["loaderData"];

function columnsOf(locale: string): Column<View["rows"][number]>[] {
  const sum = (amount: number, currency: string) => (
    <Amount amount={amount} currency={currency} locale={locale} />
  );
  return [
    { id: "order", head: t("order"), always: true, cell: (row) => <Mono>{row.reference}</Mono> },
    { id: "at", head: t("when"), cell: (row) => <When at={row.createdAt} /> },
    { id: "state", head: t("state"), cell: (row) => <OrderState order={row} /> },
    { id: "stage", head: t("order-stage"), wide: true, cell: (row) => row.stage },
    { id: "due", head: t("due"), amount: true, always: true, cell: (row) => sum(row.due, row.currency) },
    {
      id: "held",
      head: t("held"),
      amount: true,
      wide: true,
      cell: (row) => row.held > 0 && sum(row.held, row.currency),
    },
    {
      id: "paid",
      head: t("paid-title"),
      amount: true,
      wide: true,
      cell: (row) => row.paid > 0 && sum(row.paid, row.currency),
    },
    {
      id: "refunded",
      head: t("refunded"),
      amount: true,
      wide: true,
      cell: (row) => row.refunded > 0 && sum(row.refunded, row.currency),
    },
  ];
}

export default function Orders({ loaderData, params }: Route.ComponentProps) {
  const { filter, rows, next, locale, offers, accounts, views, amount, currency } = loaderData;
  const { search } = useLocation();
  const asked = new URLSearchParams(search);
  const typed = asked.get("amount") ?? "";
  const isNarrow = [...asked].some(([name, value]) => value && !["mode", "columns", "after"].includes(name));
  const at = `/s/${params.storefront}/operate/orders`;
  useLive(filter.after === null && !isNarrow, 4_000);
  return (
    <>
      <PageHead>
        <h1>{t("orders")}</h1>
      </PageHead>
      <Sheet>
        <Stack>
          <Filters
            key={["mode", "state", "offer", "connection"].map((name) => asked.get(name)).join()}
            label={t("orders")}
            keep={["mode", "columns"]}
          >
            <TextBox
              label={t("order-reference-e-mail-or")}
              name="q"
              defaultValue={filter.query}
              maxLength={80}
            />
            <SelectBox
              label={t("state")}
              name="state"
              defaultValue={filter.state ?? ""}
              choices={[
                { id: "", name: t("any") },
                ...stateChoices.map((state) => ({
                  id: state,
                  name: state === "open" ? t("not-paid-within") : state,
                })),
              ]}
            />
            <AccountFilter accounts={accounts} chosen={filter.connection} />
            <OfferFilter offers={offers} chosen={filter.offer} />
            <TextBox
              label={t("due")}
              name="amount"
              size={8}
              defaultValue={typed}
              maxLength={20}
              wrong={typed !== "" && amount === "" ? t("this-is-no-amount") : undefined}
              hint={
                typed !== "" && amount !== "" ? t("read-as-amount-currency", { amount, currency }) : undefined
              }
            />
            <DateBox label={t("from")} name="from" defaultValue={asked.get("from") ?? ""} />
            <DateBox label={t("to")} name="to" defaultValue={asked.get("to") ?? ""} />
          </Filters>
          <SavedViews views={views} narrowed={isNarrow} clear={`?mode=${filter.mode}`} />
          <DataTable
            label={t("orders")}
            columns={columnsOf(locale)}
            rows={rows}
            rowKey={(row) => row.id}
            rowTo={(row) => `${at}/${row.id}`}
            next={next}
            first={filter.after === null}
            csv={`/s/${params.storefront}/operate/orders.csv`}
            empty={
              <Says meaning="none">
                {t("the-shop-has-opened-no", { isNarrow: isNarrow ? "yes" : "no", mode: filter.mode })}
              </Says>
            }
          />
        </Stack>
      </Sheet>
    </>
  );
}
