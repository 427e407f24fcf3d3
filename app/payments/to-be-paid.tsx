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
import { t } from "../words/pages/payments";

export const meta: Route.MetaFunction = () => [{ title: t("to-be-paid-zahlung") }];

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
  if (once === "") throw data(t("the-form-is-malformed"), { status: 400 });
  const day = dayIn(String(form.get("on") ?? ""), zoneOf(request) ?? "UTC");
  if (!day) return data({ says: t("say-on-which-day-it"), results: [] }, { status: 422 });
  if (ids.length === 0) return data({ says: t("choose-what-came"), results: [] }, { status: 422 });
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
          label={t("all-of-order-order-reference", { orderReference: row.orderReference })}
          checked={chosen.has(row.id)}
          onChange={() => toggle(row.id)}
        />
      ),
    },
    {
      id: "order",
      head: t("order"),
      always: true,
      cell: (row) => (
        <Link to={`/s/${params.storefront}/operate/${row.id}`}>
          <Mono>{row.orderReference}</Mono>
        </Link>
      ),
    },
    { id: "method", head: t("method"), wide: true, cell: (row) => row.method },
    { id: "quoted", head: t("quotes"), wide: true, cell: (row) => <Mono>{row.quoted}</Mono> },
    { id: "since", head: t("ordered"), wide: true, cell: (row) => <When at={row.createdAt} /> },
    {
      id: "due",
      head: t("due"),
      always: true,
      cell: (row) => (
        <>
          {row.dueAt !== null && <When at={row.dueAt} />}{" "}
          {row.overdue && <Says meaning="wrong">{t("overdue")}</Says>}
          {row.slip && <Says meaning="waits">{t("something-sent-in")}</Says>}
        </>
      ),
    },
    {
      id: "left",
      head: t("still-to-come"),
      amount: true,
      always: true,
      cell: (row) => (
        <>
          <Amount amount={row.left} currency={row.currency} locale={locale} />
          {row.captured > 0 && (
            <Small>
              {t("amount-came", {
                amount: <Amount amount={row.captured} currency={row.currency} locale={locale} />,
              })}
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
          <h1>{t("to-be-paid")}</h1>
          <p>{t("orders-that-shoppers-pay-without")}</p>
        </div>
      </PageHead>
      {results.length > 0 && (
        <Note meaning={results.every((one) => one.ok) ? "proven" : "waits"}>
          <Stack $gap={0.3}>
            <strong>
              {t("done-of-all-written-down", {
                done: results.filter((one) => one.ok).length,
                all: results.length,
              })}
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
                <DateBox label={t("came-on")} name="on" defaultValue={today} max={today} required />
                <Button $kind="main" disabled={busy || mine.length === 0}>
                  {busy
                    ? t("writing-it-down")
                    : mine.length === 0
                      ? t("choose-what-came-in-full")
                      : t("all-of-orders-came", {
                          orders: mine.length,
                          sums: sumsText(
                            mine.map((one) => ({ amount: one.left, currency: one.currency })),
                            locale,
                          ),
                        })}
                </Button>
                <Small>{t("a-part-or-too-much")}</Small>
                {full && <Small>{t("the-first-hundred-more-come")}</Small>}
              </Row>
            </fetcher.Form>
          )}
          <DataTable
            label={t("to-be-paid")}
            columns={columns}
            rows={rows}
            rowKey={(row) => row.id}
            next={null}
            first
            empty={<Says meaning="none">{t("nobody-has-to-pay-anything", { mode })}</Says>}
          />
        </Stack>
      </Sheet>
    </Stack>
  );
}
