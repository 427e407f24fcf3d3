import { useState } from "react";
import { data, Link, useFetcher } from "react-router";
import { modeShown } from "#server/connections/connections";
import { offerNames } from "#server/offers/names";
import { slipsWaiting } from "#server/ways/offline/slips";
import { MOST_AT_ONCE, receiveMany, toBePaid } from "#server/payments/to-be-paid";
import { runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { localeOf, mustFindStorefront, mustStandAt } from "../frame/storefront-context";
import { DateBox } from "../parts/date-box";
import { mustOperate } from "../people/session";
import { Amount } from "../parts/amount";
import { CheckBox } from "../parts/check-box";
import { type Column, DataTable } from "../parts/data-table";
import { Button } from "../parts/form";
import { useLive } from "../parts/live";
import { Note, Says } from "../parts/marks";
import { Mono, PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { sumsText } from "../parts/sums";
import { When } from "../parts/when";
import { dayIn, dayOf, zoneOf } from "../parts/zone";
import { spokenIn } from "../words/spoken.server";
import type { Route } from "./+types/to-be-paid";

export const meta: Route.MetaFunction = () => [{ title: "To be paid · Zahlung" }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const rt = context.get(runtimeContext);
  const mode = await modeShown(rt, now.storefront.id, new URL(request.url).searchParams.get("mode"));
  const waiting = await toBePaid(rt, now.storefront.id, mode);
  const names = offerNames(now);
  const shown = await slipsWaiting(
    rt,
    waiting.map(({ id }) => id),
  );
  return {
    looking: { mode, may: ["test", "live"] } satisfies Looking,
    mode,
    locale: localeOf(now.storefront),
    form: rt.ids.next("form"),
    today: dayOf(rt.now(), zoneOf(request) ?? "UTC"),
    full: waiting.length === MOST_AT_ONCE,
    rows: waiting.map(({ id, orderReference, amount, captured, currency, dueAt, createdAt, ...one }) => ({
      ...{ id, orderReference, currency, dueAt, createdAt, captured, left: amount - captured },
      quoted: one.providerRef,
      method: names.get(one.offerId) ?? "removed",
      slip: shown.has(id),
      overdue: dueAt !== null && dueAt < rt.now(),
    })),
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const form = await request.formData();
  const ids = form.getAll("payment").map(String);
  const once = String(form.get("once") ?? "").slice(0, 60);
  if (once === "") throw data("The form is malformed.", { status: 400 });
  const day = dayIn(String(form.get("on") ?? ""), zoneOf(request) ?? "UTC");
  if (!day) return data({ says: "Say on which day it came.", results: [] }, { status: 422 });
  if (ids.length === 0) return data({ says: "Choose what came.", results: [] }, { status: 422 });
  const results = await receiveMany(rt, person.email, storefront.id, ids, { on: day.from, once });
  return spokenIn(localeOf(storefront)).spoken({ says: null, results });
}

type RowView = Route.ComponentProps["loaderData"]["rows"][number];

export default function ToBePaid({ loaderData, params }: Route.ComponentProps) {
  const { rows, locale, mode, form, full, today } = loaderData;
  const fetcher = useFetcher<typeof action>();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const busy = fetcher.state !== "idle";
  useLive(!busy, 6_000);
  const mine = rows.filter((one) => chosen.has(one.id));
  const toggle = (id: string) => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    setChosen(next);
  };
  const results = busy ? [] : (fetcher.data?.results ?? []);
  const columns: Column<RowView>[] = [
    {
      id: "chosen",
      head: "",
      always: true,
      cell: (row) => (
        <CheckBox
          label={`All of order ${row.orderReference} came`}
          checked={chosen.has(row.id)}
          onChange={() => toggle(row.id)}
        />
      ),
    },
    {
      id: "order",
      head: "Order",
      always: true,
      cell: (row) => (
        <Link to={`/s/${params.storefront}/operate/${row.id}`}>
          <Mono>{row.orderReference}</Mono>
        </Link>
      ),
    },
    { id: "method", head: "Method", wide: true, cell: (row) => row.method },
    { id: "quoted", head: "Quotes", wide: true, cell: (row) => <Mono>{row.quoted}</Mono> },
    { id: "since", head: "Ordered", wide: true, cell: (row) => <When at={row.createdAt} /> },
    {
      id: "due",
      head: "Due",
      always: true,
      cell: (row) => (
        <>
          {row.dueAt !== null && <When at={row.dueAt} />}{" "}
          {row.overdue && <Says meaning="wrong">overdue</Says>}
          {row.slip && <Says meaning="waits">something sent in</Says>}
        </>
      ),
    },
    {
      id: "left",
      head: "Still to come",
      amount: true,
      always: true,
      cell: (row) => (
        <>
          <Amount amount={row.left} currency={row.currency} locale={locale} />
          {row.captured > 0 && (
            <Small>
              <Amount amount={row.captured} currency={row.currency} locale={locale} /> came
            </Small>
          )}
        </>
      ),
    },
  ];
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>To be paid</h1>
          <p>
            Orders that shoppers pay without a provider: by transfer, on invoice, in cash. What is due first
            stands in front.
          </p>
        </div>
      </PageHead>
      {results.length > 0 && (
        <Note meaning={results.every((one) => one.ok) ? "proven" : "waits"}>
          <Stack $gap={0.3}>
            <strong>
              {results.filter((one) => one.ok).length} of {results.length} written down as paid.
            </strong>
            {results
              .filter((one) => !one.ok)
              .map((one) => (
                <span key={one.id}>
                  <Link to={`/s/${params.storefront}/operate/${one.id}`}>{one.order}</Link>: {one.says}
                </span>
              ))}
          </Stack>
        </Note>
      )}
      {fetcher.data?.says && !busy && <Note meaning="wrong">{fetcher.data.says}</Note>}
      <Sheet>
        <Stack>
          {rows.length > 0 && (
            <fetcher.Form method="post" onSubmit={() => setTimeout(() => setChosen(new Set()))}>
              <input type="hidden" name="once" value={form} />
              {mine.map((one) => (
                <input key={one.id} type="hidden" name="payment" value={one.id} />
              ))}
              <Row>
                <DateBox label="Came on" name="on" defaultValue={today} max={today} required />
                <Button $kind="main" disabled={busy || mine.length === 0}>
                  {busy
                    ? "Writing it down…"
                    : mine.length === 0
                      ? "Choose what came in full"
                      : `All of ${mine.length === 1 ? "one order" : `${mine.length} orders`} came, ${sumsText(
                          mine.map((one) => ({ amount: one.left, currency: one.currency })),
                          locale,
                        )}`}
                </Button>
                <Small>A part, or too much, is written down at the payment.</Small>
                {full && <Small>The first hundred; more come when these are paid.</Small>}
              </Row>
            </fetcher.Form>
          )}
          <DataTable
            label="To be paid"
            columns={columns}
            rows={rows}
            rowKey={(row) => row.id}
            next={null}
            first
            empty={<Says meaning="none">nobody has to pay anything without a provider in {mode}</Says>}
          />
        </Stack>
      </Sheet>
    </Stack>
  );
}
