import { data, redirect } from "react-router";
import { occurringStates } from "#core/payments/stages";
import { methodOf } from "#core/profiles/profile";
import { servedBy } from "#server/connections/connections";
import { carrierOf } from "#server/offers/carrier";
import { candidatesIn } from "#server/offers/candidates";
import { termsOf } from "#server/offers/offers";
import { nameOf } from "#server/offers/names";
import { openPaymentsOf } from "#server/payments/open";
import { anyOfferIn, runsInLive } from "#server/storefronts/now";
import { allStorefronts } from "#server/storefronts/storefronts";
import { type Context, personContext, runtimeContext } from "../context";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { Row } from "../parts/sheet";
import { zoneOf } from "../parts/zone";
import { When } from "../parts/when";
import { MoneyPath } from "./fields";
import { OfferSheet } from "./offer-sheet";
import { press } from "./presses";
import { More, SwitchOff } from "./switches";
import { wordsFor } from "../checkouts/words.server";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/edit-offer";

export const meta: Route.MetaFunction = () => [{ title: "Offer · Zahlung" }];

async function mustFindOffer(context: Context, storefrontId: string, offerId: string) {
  const rt = context.get(runtimeContext);
  const now = await mustStandAt(context, storefrontId);
  const found = anyOfferIn(now, offerId);
  if (found?.way === "offline") throw redirect(`/s/${storefrontId}/offer/without/${offerId}`);
  if (!found) throw data("There is no such offer here.", { status: 404 });
  return { rt, now, storefront: now.storefront, found };
}

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const { rt, now, storefront, found } = await mustFindOffer(context, params.storefront, params.offer);
  const { offer, working, live, profile, connection } = found;
  const [storefronts, served, open] = await Promise.all([
    allStorefronts(rt),
    servedBy(rt, connection.id),
    openPaymentsOf(rt, offer.id),
  ]);
  const method = methodOf(profile, offer.methodId);
  const can = { refund: method?.refund ?? false, partialRefund: method?.partialRefund ?? false };
  return spoken({
    offer: {
      id: offer.id,
      off: { test: offer.offInTest, live: offer.offInLive },
      runsInLive: runsInLive(found),
      name: nameOf(found),
      account: connection.name,
      provider: profile.name,
    },
    open,
    person: context.get(personContext).email,
    words: Object.fromEntries(storefront.languages.map((one) => [one, wordsFor(one)])),
    elsewhere: storefronts
      .filter((one) => one.id !== storefront.id && served.includes(one.id))
      .map(({ id, name }) => ({ id, name })),
    ridesOn: carrierOf(now, profile, "test")?.offer.connection.name ?? null,
    working: {
      number: working.number,
      document: working.document,
      person: working.person,
      at: working.createdAt,
    },
    live: live ? { number: live.number } : null,
    terms: { ...termsOf(storefront, profile, offer.methodId), groupNames: storefront.groups },
    states: { "at-once": occurringStates("at-once", can), later: occurringStates("later", can) },
    storefront: { name: storefront.name, country: storefront.country, locale: localeOf(storefront) },
    candidates: candidatesIn(now, "test"),
    at: rt.now(),
    zones: now.zones,
    timeZone: zoneOf(request) ?? "UTC",
  });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { person } = mustOperate(context);
  const { rt, storefront, found } = await mustFindOffer(context, params.storefront, params.offer);
  const form = await request.formData();
  return press({ rt, person: person.email, storefront, found, form });
}

export default function EditOffer({ loaderData }: Route.ComponentProps) {
  const { offer, working, live, terms } = loaderData;
  return (
    <OfferSheet
      view={{ ...loaderData, id: offer.id }}
      provider={offer.provider}
      statesOf={(draft) => loaderData.states[draft.capture]}
      way={(part) => <MoneyPath {...part} terms={terms} />}
      head={
        <>
          <h1>
            {offer.name} through {offer.account}
          </h1>
          <p>
            Working revision {working.number}, saved <When at={working.at} /> by {working.person}. Test runs
            it; live runs {live ? `revision ${live.number}` : "nothing yet"}.
            {loaderData.ridesOn && ` Its money moves through ${loaderData.ridesOn}.`}
          </p>
        </>
      }
      presses={
        <>
          <Row $gap={1}>
            <SwitchOff mode="test" off={offer.off.test} />
            {offer.runsInLive && <SwitchOff mode="live" off={offer.off.live} />}
          </Row>
          <More
            live={offer.runsInLive && !offer.off.live}
            open={loaderData.open}
            elsewhere={loaderData.elsewhere}
            label={`${offer.name} through ${offer.account}`}
          />
        </>
      }
    />
  );
}
