import { Link, useLocation } from "react-router";
import { styled } from "styled-components";
import { decimalText } from "#core/money/money";
import type { Mode } from "#core/mode";
import { paymentStates, stateWords } from "#core/payments/facts";
import { nameOf } from "#server/offers/names";
import {
  isNarrowed,
  listPayments,
  type PaymentFilter,
  type PaymentRow,
  sumPayments,
} from "#server/payments/list";
import type { Runtime } from "#server/runtime";
import { runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { Amount } from "../parts/amount";
import { AccountFilter } from "../parts/account-filter";
import { type Column, DataTable } from "../parts/data-table";
import { Filters } from "../parts/filters";
import { Button, Check, Field, Hint, Input, Select, Wrong } from "../parts/form";
import { useLive } from "../parts/live";
import { ModePlate, StateMark } from "../parts/marks";
import { Mono, PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { paymentFilter } from "./filter";
import type { Route } from "./+types/payments";

export const meta: Route.MetaFunction = () => [{ title: "Payments · Zahlung" }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const { storefront } = now;
  const rt = context.get(runtimeContext);
  const { searchParams } = new URL(request.url);
  const filter = await paymentFilter(rt, now, searchParams);
  const narrowed = isNarrowed(filter);
  const [{ rows, next }, summed] = await Promise.all([
    listPayments(rt, storefront.id, filter),
    narrowed && !filter.query && !filter.after ? sumPayments(rt, storefront.id, filter) : null,
  ]);
  const [currency = "EUR"] = storefront.currencies;
  return {
    looking: {
      mode: filter.mode,
      may: filter.query ? ["test", "live", "both"] : ["test", "live"],
    } satisfies Looking,
    filter,
    narrowed,
    amount: filter.amount === null ? "" : decimalText({ amount: filter.amount, currency }),
    currency,
    offers: now.offers.map((one) => ({
      id: one.offer.id,
      name: nameOf(one),
      connection: one.connection.id,
      account: one.connection.name,
    })),
    accounts: now.connections.map(({ connection }) => ({ id: connection.id, name: connection.name })),
    elsewhere: rows.length === 0 && filter.query ? await foundElsewhere(rt, storefront.id, filter) : null,
    next,
    summed,
    locale: localeOf(storefront),
    rows,
  };
}

/** The other mode, when what was searched for is only there. */
async function foundElsewhere(
  rt: Runtime,
  storefrontId: string,
  filter: PaymentFilter,
): Promise<Mode | null> {
  if (filter.mode === "both") return null;
  const mode = filter.mode === "test" ? "live" : "test";
  const { rows } = await listPayments(rt, storefrontId, { ...filter, mode, after: null });
  return rows.length > 0 ? mode : null;
}

type View = Route.ComponentProps["loaderData"];

const Sums = styled.dl`
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1.6rem;
  margin-top: 0.6rem;
  div {
    display: flex;
    gap: 0.5rem;
  }
  dt {
    color: var(--ink-soft);
  }
  dd {
    font-weight: 600;
  }
`;

function columnsFor({ locale, offers, accounts, filter }: View): Column<PaymentRow>[] {
  const offer = new Map(offers.map((one) => [one.id, one]));
  const account = new Map(accounts.map((one) => [one.id, one.name]));
  return [
    {
      id: "order",
      head: "Order",
      always: true,
      cell: (row) => (
        <>
          <Mono>{row.orderReference}</Mono>
          {row.origin !== "shop" && (
            <Small as="span"> {row.origin === "walk" ? "walked" : "rehearsal"}</Small>
          )}
          {filter.mode === "both" && (
            <>
              {" "}
              <ModePlate mode={row.mode} />
            </>
          )}
        </>
      ),
    },
    { id: "at", head: "When", sort: "time", cell: (row) => <When at={row.createdAt} /> },
    {
      id: "state",
      head: "State",
      cell: (row) => (
        <>
          <StateMark state={row.state} />
          {row.attention && <Wrong>needs a look</Wrong>}
        </>
      ),
    },
    { id: "stage", head: "Order stage", wide: true, extra: true, cell: (row) => row.stage },
    {
      id: "method",
      head: "Method",
      wide: true,
      cell: (row) => offer.get(row.offerId)?.name ?? "removed",
    },
    {
      id: "provider",
      head: "Account",
      wide: true,
      cell: (row) => account.get(row.connectionId) ?? "disconnected",
    },
    { id: "with", head: "Paid with", wide: true, cell: (row) => row.instrument },
    {
      id: "amount",
      head: "Amount",
      amount: true,
      always: true,
      sort: "amount",
      cell: (row) => <Amount amount={row.amount} currency={row.currency} locale={locale} />,
    },
    {
      id: "refunded",
      head: "Refunded",
      amount: true,
      wide: true,
      cell: (row) =>
        row.refunded > 0 && <Amount amount={row.refunded} currency={row.currency} locale={locale} />,
    },
  ];
}

export default function Payments({ loaderData, params }: Route.ComponentProps) {
  const { filter, rows, next } = loaderData;
  const at = `/s/${params.storefront}/operate`;
  // The newest page follows what comes in.
  useLive(filter.after === null && filter.query === "", 4_000);
  return (
    <>
      <PageHead>
        <h1>Payments</h1>
      </PageHead>
      <Sheet>
        <Stack>
          <PaymentFilters view={loaderData} />
          <DataTable
            label="Payments"
            columns={columnsFor(loaderData)}
            rows={rows}
            rowKey={(row) => row.id}
            rowTo={(row) => `${at}/${row.id}`}
            next={next}
            first={filter.after === null}
            csv={`/s/${params.storefront}/operate.csv`}
            footing={loaderData.summed && <Summed view={loaderData} />}
            empty={<Nothing view={loaderData} at={at} />}
          />
        </Stack>
      </Sheet>
    </>
  );
}

function Nothing({ view, at }: { view: View; at: string }) {
  const { filter, narrowed, elsewhere } = view;
  if (elsewhere)
    return (
      <Small>
        Not among the {filter.mode} payments.{" "}
        <Link to={`?${new URLSearchParams({ q: filter.query, mode: elsewhere }).toString()}`}>
          It is among the {elsewhere} payments
        </Link>
      </Small>
    );
  if (filter.query || narrowed)
    return (
      <Small>
        Nothing fits. <Link to={`${at}?mode=${filter.mode}`}>Show all</Link>
      </Small>
    );
  return (
    <Small>
      No {filter.mode} payments yet.{" "}
      {filter.mode === "test"
        ? "Buy something in the shop with its test key, or rehearse."
        : "They appear here after the cutover."}
    </Small>
  );
}

function Summed({ view: { summed, locale } }: { view: View }) {
  if (!summed || summed.sums.length === 0) return null;
  return (
    <div role="group" aria-label="Sums of what is filtered">
      {summed.sums.map((one) => (
        <Sums key={one.currency}>
          <div>
            <dt>
              {summed.more ? "The newest " : ""}
              {one.payments} payment{one.payments === 1 ? "" : "s"}
            </dt>
            <dd>
              <Amount amount={one.amount} currency={one.currency} locale={locale} />
            </dd>
          </div>
          <div>
            <dt>captured</dt>
            <dd>
              <Amount amount={one.captured} currency={one.currency} locale={locale} />
            </dd>
          </div>
          <div>
            <dt>refunded</dt>
            <dd>
              <Amount amount={one.refunded} currency={one.currency} locale={locale} />
            </dd>
          </div>
        </Sums>
      ))}
    </div>
  );
}

function PaymentFilters({ view }: { view: View }) {
  const { filter, offers, accounts, amount, currency } = view;
  const { search } = useLocation();
  const query = new URLSearchParams(search);
  const typed = query.get("amount") ?? "";
  return (
    <Filters
      key={["mode", "state", "offer", "connection"].map((name) => query.get(name)).join()}
      label="Payments"
      keep={["mode", "columns", "sort"]}
    >
      <Field>
        Order, reference, e-mail or last four
        <Input name="q" type="text" defaultValue={filter.query} maxLength={80} />
      </Field>
      <Field>
        State
        <Select name="state" defaultValue={filter.state ?? ""}>
          <option value="">Any</option>
          {paymentStates.map((state) => (
            <option key={state} value={state}>
              {stateWords(state)}
            </option>
          ))}
        </Select>
      </Field>
      <AccountFilter accounts={accounts} chosen={filter.connection} />
      <Field>
        Method
        <Select name="offer" defaultValue={filter.offer ?? ""}>
          <option value="">Any</option>
          {offers.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name} ({one.account})
            </option>
          ))}
        </Select>
      </Field>
      <Field>
        Paid with
        <Input name="with" type="text" size={8} defaultValue={filter.instrument ?? ""} maxLength={40} />
      </Field>
      <Field>
        Amount
        <Input
          name="amount"
          type="text"
          size={8}
          defaultValue={typed}
          maxLength={20}
          aria-invalid={typed !== "" && amount === "" ? true : undefined}
        />
        {typed !== "" && (
          <Hint>{amount === "" ? "This is no amount." : `Read as ${amount} ${currency}.`}</Hint>
        )}
      </Field>
      <Field>
        From
        <Input type="date" name="from" defaultValue={query.get("from") ?? ""} />
      </Field>
      <Field>
        To
        <Input type="date" name="to" defaultValue={query.get("to") ?? ""} />
      </Field>
      {filter.mode === "test" && (
        <Row>
          <Check>
            <input type="checkbox" name="rehearsals" value="1" defaultChecked={filter.rehearsals} /> With
            rehearsals
          </Check>
          <Check>
            <input type="checkbox" name="archived" value="1" defaultChecked={filter.archived} /> With those
            from before the cutover
          </Check>
        </Row>
      )}
      {(filter.query || view.narrowed) && (
        <Button as={Link} to={`?mode=${filter.mode}`} $kind="bare">
          Clear
        </Button>
      )}
    </Filters>
  );
}
