import { useState } from "react";
import { data, Link, useFetcher } from "react-router";
import { changeSettings } from "#server/audit/audit";
import { forget, nameOf } from "#server/instruments/instruments";
import { keptHere } from "#server/instruments/list";
import { offerNames } from "#server/offers/names";
import { type Context, runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { mustStandAt } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { Ask } from "../parts/ask";
import { Button } from "../parts/form";
import { ModePlate, Note, Says } from "../parts/marks";
import { Mono, PageHead, Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";
import { SubscriptionState } from "../subscriptions/subscription-state";
import { AgreedWords } from "./agreed-words";
import { standOf } from "./stand";
import type { Route } from "./+types/kept-one";
import { t } from "../words/pages/instruments";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: t("name-zahlung", { name: loaderData?.kept.name ?? t("kept") }) },
];

async function mustFind(context: Context, params: Route.LoaderArgs["params"]) {
  const now = await mustStandAt(context, params.storefront);
  const found = await keptHere(context.get(runtimeContext), now.storefront.id, params.instrument);
  // What was an erased shopper's says nothing to anybody.
  if (!found || found.instrument.shopper === "") throw data(t("there-is-nothing-of-that"), { status: 404 });
  return { now, found };
}

export async function loader({ params, context }: Route.LoaderArgs) {
  const { now, found } = await mustFind(context, params);
  const { id, shopper, mode, offerId, scope, state, until, consent, ...row } = found.instrument;
  return {
    looking: { mode, may: [] } satisfies Looking,
    kept: {
      ...{
        id,
        name: nameOf(found.instrument),
        shopper,
        mode,
        scope,
        until,
        consent,
        offer: offerNames(now).get(offerId) ?? "removed",
      },
      ...{ createdAt: row.createdAt, usedAt: row.usedAt, forgottenAt: row.forgottenAt },
      stand: standOf({ state, until }, context.get(runtimeContext).now()),
    },
    payment: found.payment,
    subscriptions: found.subscriptions.map(({ terms, quantity, reference, ...one }) => ({
      ...{ id: one.id, reference, state: one.state, ending: one.ending, ends: one.ends },
      plan: quantity === 1 ? terms.name : `${quantity} × ${terms.name}`,
    })),
  };
}

export async function action({ params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const { found } = await mustFind(context, params);
  const { id, storefrontId, mode, shopper } = found.instrument;
  // What is gone already is as it was wanted.
  await forget(rt, { storefrontId, mode, shopper }, id);
  await changeSettings(rt, { person: person.email, action: "kept: forgotten", subject: id }, []);
  return { ok: true };
}

/** One thing that a shopper has kept: what they agreed to, what it was kept with, and what it is charged for. */
export default function KeptOne({ loaderData, params }: Route.ComponentProps) {
  const { kept, payment, subscriptions } = loaderData;
  const at = `/s/${params.storefront}/operate`;
  const fetcher = useFetcher();
  const [asking, setAsking] = useState(false);
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <Link to={`${at}/kept?mode=${kept.mode}`}>{t("all-that-is-kept")}</Link>
          <h1>
            <bdi>{kept.name}</bdi> <ModePlate mode={kept.mode} />
          </h1>
          <p>
            {t("shopper-s-kept-by-offer", {
              shopper: kept.shopper,
              offer: kept.offer,
              shop: kept.scope === "shop" ? "yes" : "no",
            })}
          </p>
        </div>
        {kept.stand === "kept" && <Says meaning="proven">{t("kept-within")}</Says>}
        {kept.stand === "over" && <Says meaning="wrong">{t("has-ended")}</Says>}
        {kept.stand === "forgotten" && <Says meaning="none">{t("forgotten")}</Says>}
      </PageHead>
      <Sheet>
        <Stack>
          <h2>{t("what-was-agreed-to")}</h2>
          <Small>
            {t("when-as-order-link-was", {
              when: <When at={kept.consent.at} />,
              link: (
                <Link to={`${at}/${payment.id}`}>
                  <Mono>{payment.orderReference}</Mono>
                </Link>
              ),
            })}
          </Small>
          <AgreedWords of={kept.consent} />
          <Table>
            <thead>
              <tr>
                <th scope="col">{t("kept-since")}</th>
                <th scope="col">{t("used-last")}</th>
                <th scope="col">
                  {t("ends-or-forgotten", { noForgottenAt: kept.forgottenAt === null ? "yes" : "no" })}
                </th>
              </tr>
            </thead>
            <tbody>
              <tr>
                <td>
                  <When at={kept.createdAt} />
                </td>
                <td>
                  {kept.usedAt === null ? <Small as="span">{t("not-yet")}</Small> : <When at={kept.usedAt} />}
                </td>
                <td>
                  {(kept.forgottenAt ?? kept.until) === null ? (
                    <Small as="span">{t("the-provider-does-not-say")}</Small>
                  ) : (
                    <When at={kept.forgottenAt ?? kept.until ?? 0} />
                  )}
                </td>
              </tr>
            </tbody>
          </Table>
          {kept.stand !== "forgotten" && (
            <Row>
              <Button type="button" onClick={() => setAsking(true)} disabled={fetcher.state !== "idle"}>
                {t("have-it-forgotten")}
              </Button>
            </Row>
          )}
          {fetcher.data && kept.stand === "forgotten" && (
            <Note meaning="proven">{t("forgotten-here-the-provider-forgets")}</Note>
          )}
        </Stack>
      </Sheet>
      <Sheet>
        <Stack>
          <h2>{t("what-it-is-charged-for")}</h2>
          {subscriptions.length === 0 ? (
            <Small>{t("no-subscription")}</Small>
          ) : (
            <Table>
              <thead>
                <tr>
                  <th scope="col">{t("subscription")}</th>
                  <th scope="col">{t("plan")}</th>
                  <th scope="col">{t("state")}</th>
                </tr>
              </thead>
              <tbody>
                {subscriptions.map((one) => (
                  <tr key={one.id}>
                    <td>
                      <Link to={`${at}/subscriptions/${one.id}`}>
                        <Mono>{one.reference}</Mono>
                      </Link>
                    </td>
                    <td>{one.plan}</td>
                    <td>
                      <SubscriptionState subscription={one} />
                    </td>
                  </tr>
                ))}
              </tbody>
            </Table>
          )}
        </Stack>
      </Sheet>
      {asking && (
        <Ask
          title={t("have-name-forgotten", { name: kept.name })}
          says={
            <p>
              {t("shopper-can-pay-with-it", {
                shopper: kept.shopper,
                subscriptions:
                  subscriptions.length > 0 &&
                  t("subscriptions-subscriptions-have-nothing-to", { subscriptions: subscriptions.length }),
              })}
            </p>
          }
          onClose={() => setAsking(false)}
        >
          <Button
            type="button"
            $kind="danger"
            onClick={() => {
              setAsking(false);
              void fetcher.submit({ press: "forget" }, { method: "post" });
            }}
          >
            {t("have-it-forgotten")}
          </Button>
          <Button type="button" onClick={() => setAsking(false)}>
            {t("leave-it")}
          </Button>
        </Ask>
      )}
    </Stack>
  );
}
