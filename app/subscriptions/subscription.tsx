import { useState } from "react";
import { data, Link, useFetcher } from "react-router";
import { changeSettings } from "#server/audit/audit";
import { offerNames } from "#server/offers/names";
import { plansIn, termsIn } from "#server/subscriptions/begin";
import {
  actOn,
  actsOf,
  changePlan,
  type Changed,
  isSubscriptionAct,
  type SubscriptionAct,
} from "#server/subscriptions/change";
import { subscriptionHere } from "#server/subscriptions/list";
import { type Context, runtimeContext } from "../context";
import { formOf } from "../form-of";
import type { Looking } from "../frame/looking";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { AgreedWords } from "../instruments/agreed-words";
import { SelectBox } from "../parts/select-box";
import { mustOperate } from "../people/session";
import { Amount } from "../parts/amount";
import { Ask } from "../parts/ask";
import { Button } from "../parts/form";
import { useLive } from "../parts/live";
import { ModePlate, Note, Says } from "../parts/marks";
import { Mono, PageHead, Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { When } from "../parts/when";
import { tell } from "../words/spoken.server";
import { SubscriptionState } from "./subscription-state";
import { eventWords, rhythmWords } from "./words";
import type { Route } from "./+types/subscription";
import { t } from "../words/pages/subscriptions";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: t("subscription-reference-zahlung", { reference: loaderData?.subscription.reference ?? "" }) },
];

async function mustFind(context: Context, params: Route.LoaderArgs["params"]) {
  const now = await mustStandAt(context, params.storefront);
  const found = await subscriptionHere(context.get(runtimeContext), now.storefront.id, params.subscription);
  if (!found) throw data(t("there-is-no-such-subscription"), { status: 404 });
  return { now, found };
}

export async function loader({ params, context }: Route.LoaderArgs) {
  const { now, found } = await mustFind(context, params);
  const { subscription, periods, events, instrument } = found;
  const { offerId, mode, customer, terms } = subscription;
  return {
    looking: { mode, may: [] } satisfies Looking,
    locale: localeOf(now.storefront),
    subscription,
    acts: actsOf(subscription),
    offer: offerId === null ? null : (offerNames(now).get(offerId) ?? "removed"),
    instrument,
    plans: plansIn(now, mode, { currency: terms.currency, language: customer.language }).map(
      ({ plan, name }) => ({ plan, name }),
    ),
    periods: periods.map(({ period, order, orderId }) => ({ ...period, order, orderId })),
    events: events.map(({ id, at, by, event }) => ({ id, at, by, says: eventWords(event) })),
  };
}

type Answer = { ok: boolean; says: string };

const saidDone: Record<SubscriptionAct, string> = {
  pause: t("paused-nothing-is-charged-until"),
  resume: t("it-goes-on"),
  skip: t("the-next-period-is-left"),
  cancel: t("ended"),
  "cancel-at-end": t("it-ends-when-the-next"),
  "go-on": t("it-goes-on-after-all"),
};

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const { now, found } = await mustFind(context, params);
  const { id, mode, terms, customer } = found.subscription;
  const form = await formOf(request);
  const press = form.get("press");
  const told = async (changed: Changed, done: string, action: string) => {
    if (!changed.ok) return data<Answer>({ ok: false, says: tell(changed.says) }, { status: 409 });
    await changeSettings(rt, { person: person.email, action, subject: id }, []);
    return { ok: true, says: done } satisfies Answer;
  };
  if (isSubscriptionAct(press))
    return told(await actOn(rt, id, press, person.email), saidDone[press], `subscription: ${press}`);
  if (press !== "change") throw data(t("that-cannot-be-done-here"), { status: 400 });
  const typed = String(form.get("quantity") ?? "");
  const quantity = /^[1-9]\d{0,2}$/.test(typed.trim()) ? Number(typed) : null;
  if (quantity === null)
    return data<Answer>({ ok: false, says: t("write-how-many-from-1") }, { status: 422 });
  const plan = String(form.get("plan") ?? "");
  const other =
    plan === terms.plan
      ? null
      : termsIn(now, mode, plan, { currency: terms.currency, language: customer.language });
  if (plan !== terms.plan && !other)
    return data<Answer>({ ok: false, says: t("no-offer-has-such-a") }, { status: 422 });
  const change = { quantity, ...(other && { terms: other }) };
  return told(
    await changePlan(rt, id, change, person.email),
    t("changed-from-the-next-period"),
    "subscription changed",
  );
}

const actNames: Record<SubscriptionAct, string> = {
  pause: t("pause"),
  resume: t("go-on"),
  skip: t("leave-the-next-period-out"),
  "cancel-at-end": t("end-with-its-period"),
  "go-on": t("go-on-after-all"),
  cancel: t("end-now"),
};

const periodWords = {
  open: t("waits"),
  paid: t("paid"),
  skipped: t("left-out"),
  unpaid: t("not-paid"),
} as const;
const periodMeanings = { open: "waits", paid: "proven", skipped: "none", unpaid: "wrong" } as const;

export default function SubscriptionPage({ loaderData, params }: Route.ComponentProps) {
  const { subscription, acts, offer, instrument, plans, periods, events, locale } = loaderData;
  const { terms, mode, currency, state } = subscription;
  const at = `/s/${params.storefront}/operate`;
  const sum = (amount: number) => <Amount amount={amount} currency={currency} locale={locale} />;
  const fetcher = useFetcher<Answer>();
  const [asking, setAsking] = useState(false);
  const busy = fetcher.state !== "idle";
  useLive(true, state === "ended" ? 10_000 : 4_000);
  const send = (press: string) => void fetcher.submit({ press }, { method: "post" });
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <Link to={`${at}/subscriptions?mode=${mode}`}>{t("all-subscriptions")}</Link>
          <h1>
            {t("subscription-reference", { reference: subscription.reference })} <ModePlate mode={mode} />
          </h1>
          <p>
            {subscription.quantity === 1 ? terms.name : `${subscription.quantity} × ${terms.name}`},{" "}
            {sum(subscription.amount)} {rhythmWords(terms.rhythm)}
            {terms.times === null ? "" : t("times-times", { times: terms.times })}.
          </p>
        </div>
        <SubscriptionState subscription={subscription} />
      </PageHead>
      {fetcher.data && !busy && (
        <Note meaning={fetcher.data.ok ? "proven" : "wrong"}>{fetcher.data.says}</Note>
      )}
      <Sheet>
        <Stack>
          <h2>{t("whose-it-is-and-what")}</h2>
          <Table>
            <thead>
              <tr>
                <th scope="col">{t("shopper")}</th>
                <th scope="col">{t("e-mail")}</th>
                <th scope="col">{t("charged-by")}</th>
                <th scope="col">{t("to")}</th>
                <th scope="col">{t("next-charge")}</th>
              </tr>
            </thead>
            <tbody>
              <tr>
                <td>{subscription.shopper || <Small as="span">{t("erased")}</Small>}</td>
                <td>{subscription.customer.email || <Small as="span">{t("none")}</Small>}</td>
                <td>{offer ?? <Small as="span">{t("nobody-yet")}</Small>}</td>
                <td>
                  {instrument?.state === "kept" ? (
                    <Link to={`${at}/kept/${instrument.id}`}>{instrument.name}</Link>
                  ) : (
                    <Says meaning={state === "ended" || state === "waiting" ? "none" : "wrong"}>
                      {t("nothing-is-kept")}
                    </Says>
                  )}
                </td>
                <td>
                  {subscription.nextDue === null || state === "paused" || subscription.ends ? (
                    <Small as="span">{t("none")}</Small>
                  ) : (
                    <When at={subscription.nextDue} />
                  )}
                </td>
              </tr>
            </tbody>
          </Table>
          {subscription.mandate && (
            <details>
              <summary>
                {t("what-the-shopper-agreed-to", { when: <When at={subscription.mandate.at} /> })}
              </summary>
              <AgreedWords of={subscription.mandate} />
            </details>
          )}
          {acts.length > 0 && (
            <Row>
              {acts.map((act) => (
                <Button
                  key={act}
                  type="button"
                  disabled={busy}
                  {...(act === "cancel" && { $kind: "danger" as const })}
                  onClick={() => (act === "cancel" ? setAsking(true) : send(act))}
                >
                  {actNames[act]}
                </Button>
              ))}
            </Row>
          )}
          {acts.length > 1 && (
            <fetcher.Form method="post">
              <Row $align="end">
                <SelectBox
                  label={t("plan")}
                  name="plan"
                  defaultValue={terms.plan}
                  choices={[
                    ...(!plans.some(({ plan }) => plan === terms.plan)
                      ? [{ id: terms.plan, name: terms.name }]
                      : []),
                    ...plans.map(({ plan, name }) => ({ id: plan, name })),
                  ]}
                />
                <TextBox
                  label={t("pieces")}
                  name="quantity"
                  inputMode="numeric"
                  maxLength={3}
                  size={4}
                  defaultValue={String(subscription.quantity)}
                />
                <Button name="press" value="change" disabled={busy}>
                  {t("change-from-the-next-period")}
                </Button>
              </Row>
            </fetcher.Form>
          )}
        </Stack>
      </Sheet>
      <Sheet>
        <Stack>
          <h2>{t("its-periods")}</h2>
          {periods.length === 0 ? (
            <Small>{t("none-yet-the-first-begins")}</Small>
          ) : (
            <Table>
              <thead>
                <tr>
                  <th scope="col">{t("period")}</th>
                  <th scope="col">{t("from")}</th>
                  <th scope="col">{t("until")}</th>
                  <th scope="col">{t("order")}</th>
                  <th scope="col">{t("state")}</th>
                  <th scope="col">{t("charged")}</th>
                  <th scope="col" className="amount">
                    {t("amount")}
                  </th>
                </tr>
              </thead>
              <tbody>
                {periods.map((one) => (
                  <tr key={one.number}>
                    <td>{one.number}</td>
                    <td>{one.first}</td>
                    <td>{one.until}</td>
                    <td>
                      {one.orderId && (
                        <Link to={`${at}/orders/${one.orderId}`}>
                          <Mono>{one.order}</Mono>
                        </Link>
                      )}
                    </td>
                    <td>
                      <Says meaning={periodMeanings[one.state]}>{periodWords[one.state]}</Says>
                    </td>
                    <td>
                      {one.number === 0
                        ? t("by-the-shopper")
                        : one.tries === 0
                          ? ""
                          : t("tries-times", { tries: one.tries })}
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
          <h2>{t("what-happened")}</h2>
          {events.length === 0 ? (
            <Small>{t("nothing-yet")}</Small>
          ) : (
            <Table>
              <thead>
                <tr>
                  <th scope="col">{t("when")}</th>
                  <th scope="col">{t("what")}</th>
                  <th scope="col">{t("by")}</th>
                </tr>
              </thead>
              <tbody>
                {events.map(({ id, at: when, says, by }) => (
                  <tr key={id}>
                    <td>
                      <When at={when} />
                    </td>
                    <td>{says}</td>
                    <td>{by === "zahlung" ? t("by-itself") : by === "shop" ? t("the-shop") : by}</td>
                  </tr>
                ))}
              </tbody>
            </Table>
          )}
        </Stack>
      </Sheet>
      {asking && (
        <Ask
          title={t("end-subscription-reference", { reference: subscription.reference })}
          says={<p>{t("nothing-is-charged-any-more")}</p>}
          onClose={() => setAsking(false)}
        >
          <Button
            type="button"
            $kind="danger"
            onClick={() => {
              setAsking(false);
              send("cancel");
            }}
          >
            {t("end-it-now")}
          </Button>
          <Button type="button" onClick={() => setAsking(false)}>
            {t("leave-it")}
          </Button>
        </Ask>
      )}
    </Stack>
  );
}
