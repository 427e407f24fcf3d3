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

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.kept.name ?? "Kept"} · Zahlung` },
];

async function mustFind(context: Context, params: Route.LoaderArgs["params"]) {
  const now = await mustStandAt(context, params.storefront);
  const found = await keptHere(context.get(runtimeContext), now.storefront.id, params.instrument);
  // What was an erased shopper's says nothing to anybody.
  if (!found || found.instrument.shopper === "")
    throw data("There is nothing of that kind kept here.", { status: 404 });
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
          <Link to={`${at}/kept?mode=${kept.mode}`}>All that is kept</Link>
          <h1>
            <bdi>{kept.name}</bdi> <ModePlate mode={kept.mode} />
          </h1>
          <p>
            {kept.shopper}’s, kept by {kept.offer}
            {kept.scope === "shop" ? " for all storefronts that its account serves" : ""}.
          </p>
        </div>
        {kept.stand === "kept" && <Says meaning="proven">kept</Says>}
        {kept.stand === "over" && <Says meaning="wrong">has ended</Says>}
        {kept.stand === "forgotten" && <Says meaning="none">forgotten</Says>}
      </PageHead>
      <Sheet>
        <Stack>
          <h2>What was agreed to</h2>
          <Small>
            <When at={kept.consent.at} />, as order{" "}
            <Link to={`${at}/${payment.id}`}>
              <Mono>{payment.orderReference}</Mono>
            </Link>{" "}
            was paid.
          </Small>
          <AgreedWords of={kept.consent} />
          <Table>
            <thead>
              <tr>
                <th scope="col">Kept since</th>
                <th scope="col">Used last</th>
                <th scope="col">{kept.forgottenAt === null ? "Ends" : "Forgotten"}</th>
              </tr>
            </thead>
            <tbody>
              <tr>
                <td>
                  <When at={kept.createdAt} />
                </td>
                <td>{kept.usedAt === null ? <Small as="span">not yet</Small> : <When at={kept.usedAt} />}</td>
                <td>
                  {(kept.forgottenAt ?? kept.until) === null ? (
                    <Small as="span">the provider does not say</Small>
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
                Have it forgotten
              </Button>
            </Row>
          )}
          {fetcher.data && kept.stand === "forgotten" && (
            <Note meaning="proven">Forgotten here. The provider forgets it as soon as it answers.</Note>
          )}
        </Stack>
      </Sheet>
      <Sheet>
        <Stack>
          <h2>What it is charged for</h2>
          {subscriptions.length === 0 ? (
            <Small>No subscription.</Small>
          ) : (
            <Table>
              <thead>
                <tr>
                  <th scope="col">Subscription</th>
                  <th scope="col">Plan</th>
                  <th scope="col">State</th>
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
          title={`Have ${kept.name} forgotten?`}
          says={
            <p>
              {kept.shopper} can pay with it no more, here and at the provider.{" "}
              {subscriptions.length > 0 &&
                `${subscriptions.length === 1 ? "One subscription has" : `${subscriptions.length} subscriptions have`} nothing to be charged to then, and the shopper is asked when the next period is due.`}
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
            Have it forgotten
          </Button>
          <Button type="button" onClick={() => setAsking(false)}>
            Leave it
          </Button>
        </Ask>
      )}
    </Stack>
  );
}
