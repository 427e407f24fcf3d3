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

export const meta: Route.MetaFunction = () => [{ title: "Subscriptions · Zahlung" }];

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
  { id: "reference", head: "Number", always: true, cell: (row) => <Mono>{row.reference}</Mono> },
  { id: "shopper", head: "Shopper", cell: (row) => row.shopper || <Small as="span">erased</Small> },
  {
    id: "plan",
    head: "Plan",
    cell: (row) => (row.quantity === 1 ? row.plan : `${row.quantity} × ${row.plan}`),
  },
  { id: "state", head: "State", cell: (row) => <SubscriptionState subscription={row} /> },
  { id: "rhythm", head: "How often", wide: true, cell: (row) => rhythmWords(row.rhythm) },
  {
    id: "next",
    head: "Next charge",
    cell: (row) => row.nextDue !== null && row.state !== "paused" && !row.ends && <When at={row.nextDue} />,
  },
  {
    id: "amount",
    head: "Each time",
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
        <h1>Subscriptions</h1>
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
                <h2>Charges in {one.currency}</h2>
                <p>
                  In the next 30 days: {sum(ahead)} by {charges} charge{charges === 1 ? "" : "s"}. In the last
                  30 days {sum(came)} came of {sum(expected)} that were due.
                </p>
                <Suspense fallback={<Small>Drawing…</Small>}>
                  <Charges forecast={one} locale={locale} />
                </Suspense>
              </Stack>
            </Sheet>
          );
        })}
        <Sheet>
          <Stack>
            <Filters label="Subscriptions" keep={["mode", "columns"]}>
              <TextBox label="Number or shopper" name="q" defaultValue={filter.query} maxLength={64} />
              <SelectBox
                label="State"
                name="state"
                defaultValue={filter.state ?? ""}
                choices={[
                  { id: "", name: "Any" },
                  ...subscriptionStates.map((state) => ({ id: state, name: stateNames[state] })),
                ]}
              />
            </Filters>
            <DataTable
              label="Subscriptions"
              columns={columnsOf(locale)}
              rows={rows}
              rowKey={(row) => row.id}
              rowTo={(row) => `${at}/${row.id}`}
              next={next}
              first={filter.after === null}
              empty={
                <Says meaning="none">
                  {filter.query || filter.state
                    ? `no subscription in ${filter.mode} fits`
                    : `nobody has subscribed in ${filter.mode} yet; an offer with a plan lets shoppers do so`}
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
                  All of them as a file
                </a>
              </Row>
            )}
          </Stack>
        </Sheet>
      </Stack>
    </>
  );
}
