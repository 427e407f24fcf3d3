import { useState } from "react";
import { data, Link, useFetcher } from "react-router";
import { leftOf } from "#core/orders/paid";
import { endCheckout } from "#server/checkouts/leave";
import { changeSettings } from "#server/audit/audit";
import { cancelOrder } from "#server/orders/cancel";
import { orderHere } from "#server/orders/list";
import { offerNames } from "#server/offers/names";
import { runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { Amount } from "../parts/amount";
import { Ask } from "../parts/ask";
import { Button } from "../parts/form";
import { useLive } from "../parts/live";
import { ModePlate, Note, StateMark } from "../parts/marks";
import { Mono, PageHead, Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";
import { PaymentOrder } from "../payments/payment-order";
import { OrderState } from "./order-state";
import type { Route } from "./+types/order";
import { t } from "../words/pages/orders";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: t("order-reference-zahlung", { reference: loaderData?.order.reference ?? "" }) },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const rt = context.get(runtimeContext);
  const found = await orderHere(rt, now.storefront.id, params.order);
  if (!found) throw data(t("there-is-no-such-order"), { status: 404 });
  const { order, checkouts, payments } = found;
  const offers = offerNames(now);
  return {
    looking: { mode: order.mode, may: [] } satisfies Looking,
    locale: localeOf(now.storefront),
    order,
    wanted: checkouts[0]?.order ?? null,
    checkouts: checkouts.map(({ id, state, createdAt, expiresAt, closedAt }) => ({
      ...{ id, state, createdAt, expiresAt, closedAt },
    })),
    payments: payments.map(({ offerId, ...one }) => ({
      ...{ id: one.id, state: one.state, amount: one.amount, captured: one.captured },
      ...{ refunded: one.refunded, instrument: one.instrument, createdAt: one.createdAt },
      ...{ connectionId: one.connectionId, method: offers.get(offerId) ?? "removed" },
    })),
  };
}

type Answer = { ok: boolean; says: string };

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const { storefront } = await mustStandAt(context, params.storefront);
  const found = await orderHere(rt, storefront.id, params.order);
  if (!found) throw data(t("there-is-no-such-order"), { status: 404 });
  const form = await request.formData();
  const press = form.get("press");
  const notLetGo = () => data<Answer>({ ok: false, says: t("a-payment-under-way-could") }, { status: 409 });
  if (press === "cancel") {
    if (found.order.state === "paid")
      return data<Answer>({ ok: false, says: t("it-is-paid-void-or") }, { status: 409 });
    if (!(await cancelOrder(rt, found.order))) return notLetGo();
    await changeSettings(
      rt,
      { person: person.email, action: "order cancelled", subject: found.order.id },
      [],
    );
    return { ok: true, says: t("cancelled-done") } satisfies Answer;
  }
  if (press === "expire") {
    const id = String(form.get("checkout") ?? "");
    const checkout = found.checkouts.find((one) => one.id === id);
    if (!checkout) throw data(t("there-is-no-such-checkout"), { status: 404 });
    if (!(await endCheckout(rt, checkout))) return notLetGo();
    return { ok: true, says: t("the-checkout-has-ended") } satisfies Answer;
  }
  throw data(t("that-cannot-be-done-here"), { status: 400 });
}

export default function OrderPage({ loaderData, params }: Route.ComponentProps) {
  const { order, wanted, checkouts, payments, locale } = loaderData;
  const at = `/s/${params.storefront}/operate`;
  const sum = (amount: number) => <Amount amount={amount} currency={order.currency} locale={locale} />;
  const fetcher = useFetcher<Answer>();
  const [asking, setAsking] = useState(false);
  const busy = fetcher.state !== "idle";
  const left = leftOf(order);
  const paidInParts = Object.values(order.parts).some((one) => !one.whole);
  useLive(true, order.state === "open" ? 2_000 : 6_000);
  const send = (fields: Record<string, string>) => void fetcher.submit(fields, { method: "post" });
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <Link to={`${at}/orders?mode=${order.mode}`}>{t("all-orders")}</Link>
          <h1>
            {t("order-reference", { reference: order.reference })} <ModePlate mode={order.mode} />
          </h1>
        </div>
        <OrderState order={order} />
      </PageHead>
      {fetcher.data && !busy && (
        <Note meaning={fetcher.data.ok ? "proven" : "wrong"}>{fetcher.data.says}</Note>
      )}
      <Sheet>
        <Stack>
          <h2>{t("its-money")}</h2>
          <Table>
            <thead>
              <tr>
                <th scope="col">{t("due")}</th>
                {left > 0 && paidInParts && <th scope="col">{t("left-to-pay")}</th>}
                <th scope="col">{t("held")}</th>
                <th scope="col">{t("paid-title")}</th>
                <th scope="col">{t("refunded")}</th>
                <th scope="col">{t("order-stage")}</th>
                <th scope="col">{t("news")}</th>
              </tr>
            </thead>
            <tbody>
              <tr>
                <td>{sum(order.due)}</td>
                {left > 0 && paidInParts && <td>{sum(left)}</td>}
                <td>{sum(order.held)}</td>
                <td>{sum(order.paid)}</td>
                <td>{sum(order.refunded)}</td>
                <td>{order.stage ?? <Small as="span">{t("none-yet")}</Small>}</td>
                <td>{t("version-version", { version: order.version })}</td>
              </tr>
            </tbody>
          </Table>
          {order.state === "open" && (
            <Row>
              <Button type="button" disabled={busy} onClick={() => setAsking(true)}>
                {t("cancel-the-order")}
              </Button>
            </Row>
          )}
        </Stack>
      </Sheet>
      <Sheet>
        <Stack>
          <h2>{t("payments-tried-for-it")}</h2>
          {payments.length === 0 ? (
            <Small>{t("no-shopper-has-tried-to")}</Small>
          ) : (
            <Table>
              <thead>
                <tr>
                  <th scope="col">{t("when")}</th>
                  <th scope="col">{t("method")}</th>
                  <th scope="col">{t("paid-with")}</th>
                  <th scope="col">{t("state")}</th>
                  <th scope="col" className="amount">
                    {t("amount")}
                  </th>
                </tr>
              </thead>
              <tbody>
                {payments.map((one) => (
                  <tr key={one.id}>
                    <td>
                      <Link to={`${at}/${one.id}`}>
                        <When at={one.createdAt} />
                      </Link>
                    </td>
                    <td>{one.method}</td>
                    <td>{one.instrument}</td>
                    <td>
                      <StateMark of={one} />
                      {payments.length > 1 && Object.hasOwn(order.parts, one.id) && (
                        <Small as="span">
                          {" "}
                          {t("pays-the-order", { hasPaidInParts: paidInParts ? "yes" : "no" })}
                        </Small>
                      )}
                    </td>
                    <td className="amount">{sum(one.amount)}</td>
                  </tr>
                ))}
              </tbody>
            </Table>
          )}
        </Stack>
      </Sheet>
      <Sheet>
        <Stack>
          <h2>{t("checkouts")}</h2>
          <Table>
            <thead>
              <tr>
                <th scope="col">{t("opened")}</th>
                <th scope="col">{t("state")}</th>
                <th scope="col">{t("ends")}</th>
                <th scope="col">
                  <span className="quiet">{t("what-can-be-done")}</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {checkouts.map((one) => (
                <tr key={one.id}>
                  <td>
                    <When at={one.createdAt} /> <Mono>{one.id.slice(-6)}</Mono>
                  </td>
                  <td>{one.state}</td>
                  <td>
                    <When at={one.closedAt ?? one.expiresAt} />
                  </td>
                  <td>
                    {one.state === "open" && (
                      <Button
                        type="button"
                        $kind="bare"
                        disabled={busy}
                        onClick={() => send({ press: "expire", checkout: one.id })}
                      >
                        {t("end-it-now")}
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Stack>
      </Sheet>
      {wanted && <PaymentOrder order={wanted} locale={locale} />}
      {asking && (
        <Ask
          title={t("cancel-order-reference", { reference: order.reference })}
          says={<p>{t("its-checkouts-end-and-whatever")}</p>}
          onClose={() => setAsking(false)}
        >
          <Button
            type="button"
            $kind="danger"
            onClick={() => {
              setAsking(false);
              send({ press: "cancel" });
            }}
          >
            {t("cancel-the-order")}
          </Button>
          <Button type="button" onClick={() => setAsking(false)}>
            {t("leave-it")}
          </Button>
        </Ask>
      )}
    </Stack>
  );
}
