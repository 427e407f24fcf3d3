import { lazy, Suspense } from "react";
import { subscriptionStates } from "#core/subscriptions/course";
import { modeShown } from "#server/connections/connections";
import { forecastOf, listSubscriptionsHere } from "#server/subscriptions/list";
import { runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { localeOf, mustFindStorefront } from "../frame/storefront-context";
import { Amount } from "../parts/amount";
import { type Column, DataTable } from "../parts/data-table";
import { Filters } from "../parts/filters";
import { useLive } from "../parts/live";
import { Says } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { Mono, PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { When } from "../parts/when";
import { zoneOf } from "../parts/zone";
import { filterIn } from "./filter";
import { SubscriptionState } from "./subscription-state";
import { rhythmWords, stateNames } from "./words";
import type { Route } from "./+types/subscriptions";
import { t } from "../words/pages/subscriptions";

export const meta: Route.MetaFunction = () => [{ title: t("subscriptions-zahlung") }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const storefront = await mustFindStorefront(context, params.storefront);
  const rt = context.get(runtimeContext);
  const search = new URL(request.url).searchParams;
  const mode = await modeShown(rt, storefront.id, search.get("mode"));
  const filter = filterIn(search, mode);
  const [page, forecasts] = await Promise.all([
    listSubscriptionsHere(rt, storefront.id, filter),
    forecastOf(rt, storefront.id, mode, zoneOf(request) ?? "UTC"),
  ]);
  return {
    looking: { mode, may: ["test", "live"] } satisfies Looking,
    ...{ filter, forecasts, locale: localeOf(storefront) },
    next: page.next,
    rows: page.rows.map(({ id, reference, shopper, terms, quantity, state, ending, ends, ...row }) => ({
      ...{ id, reference, shopper, quantity, state, ending, ends },
      ...{ plan: terms.name, rhythm: terms.rhythm, amount: row.amount, currency: row.currency },
      nextDue: row.nextDue,
    })),
  };
}

type View = Route.ComponentProps["loaderData"];

const columnsOf = (locale: string): Column<View["rows"][number]>[] => [
  { id: "reference", head: t("number"), always: true, cell: (row) => <Mono>{row.reference}</Mono> },
  { id: "shopper", head: t("shopper"), cell: (row) => row.shopper || <Small as="span">{t("erased")}</Small> },
  {
    id: "plan",
    head: t("plan"),
    cell: (row) => (row.quantity === 1 ? row.plan : `${row.quantity} × ${row.plan}`),
  },
  { id: "state", head: t("state"), cell: (row) => <SubscriptionState subscription={row} /> },
  { id: "rhythm", head: t("how-often"), wide: true, cell: (row) => rhythmWords(row.rhythm) },
  {
    id: "next",
    head: t("next-charge"),
    cell: (row) => row.nextDue !== null && row.state !== "paused" && !row.ends && <When at={row.nextDue} />,
  },
  {
    id: "amount",
    head: t("each-time"),
    amount: true,
    always: true,
    cell: (row) => <Amount amount={row.amount} currency={row.currency} locale={locale} />,
  },
];

const Charges = lazy(() => import("./charges-chart"));

export default function Subscriptions({ loaderData, params }: Route.ComponentProps) {
  const { filter, rows, next, locale, forecasts } = loaderData;
  const at = `/s/${params.storefront}/operate/subscriptions`;
  useLive(filter.after === null && filter.query === "", 6_000);
  return (
    <>
      <PageHead>
        <h1>{t("subscriptions")}</h1>
      </PageHead>
      <Stack $gap={1.3}>
        {forecasts.map((one) => {
          const ahead = one.ahead.reduce((sum, day) => sum + day.amount, 0);
          const charges = one.ahead.reduce((sum, day) => sum + day.count, 0);
          const [expected, came] = one.before.reduce(
            ([due, paid], day) => [due + day.expected, paid + day.came],
            [0, 0],
          );
          const sum = (amount: number) => (
            <strong>
              <Amount amount={amount} currency={one.currency} locale={locale} />
            </strong>
          );
          return (
            <Sheet key={one.currency}>
              <Stack>
                <h2>{t("charges-in-currency", { currency: one.currency })}</h2>
                <p>
                  {t("in-the-next-30-days", {
                    ahead: sum(ahead),
                    charges,
                    came: sum(came),
                    expected: sum(expected),
                  })}
                </p>
                <Suspense fallback={<Small>{t("drawing")}</Small>}>
                  <Charges forecast={one} locale={locale} />
                </Suspense>
              </Stack>
            </Sheet>
          );
        })}
        <Sheet>
          <Stack>
            <Filters label={t("subscriptions")} keep={["mode", "columns"]}>
              <TextBox label={t("number-or-shopper")} name="q" defaultValue={filter.query} maxLength={64} />
              <SelectBox
                label={t("state")}
                name="state"
                defaultValue={filter.state ?? ""}
                choices={[
                  { id: "", name: t("any") },
                  ...subscriptionStates.map((state) => ({ id: state, name: stateNames[state] })),
                ]}
              />
            </Filters>
            <DataTable
              label={t("subscriptions")}
              columns={columnsOf(locale)}
              rows={rows}
              rowKey={(row) => row.id}
              rowTo={(row) => `${at}/${row.id}`}
              next={next}
              first={filter.after === null}
              empty={
                <Says meaning="none">
                  {filter.query || filter.state
                    ? t("no-subscription-in-mode-fits", { mode: filter.mode })
                    : t("nobody-has-subscribed-in-mode", { mode: filter.mode })}
                </Says>
              }
            />
            {rows.length > 0 && (
              <Row>
                <a
                  href={`${at}.csv?${new URLSearchParams({
                    mode: filter.mode,
                    q: filter.query,
                    state: filter.state ?? "",
                  })}`}
                >
                  {t("all-of-them-as-a")}
                </a>
              </Row>
            )}
          </Stack>
        </Sheet>
      </Stack>
    </>
  );
}
