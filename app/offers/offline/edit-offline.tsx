import { data, redirect, useFetcher } from "react-router";
import { offlineStates } from "#core/ways/offline/states";
import { candidatesIn } from "#server/offers/candidates";
import { nameOf } from "#server/offers/names";
import { offlineLacks } from "#server/offers/offline";
import { termsFor } from "#server/offers/offers";
import { openPaymentsOf } from "#server/payments/open";
import { anyOfferIn } from "#server/storefronts/now";
import { allStorefronts } from "#server/storefronts/storefronts";
import { wordsFor } from "../../checkouts/words.server";
import { type Context, personContext, runtimeContext } from "../../context";
import { localeOf, mustStandAt } from "../../frame/storefront-context";
import { fieldId } from "../../parts/error-summary";
import { Button, Wrong } from "../../parts/form";
import { Says } from "../../parts/marks";
import { Row, Small, Stack } from "../../parts/sheet";
import { zoneOf } from "../../parts/zone";
import { When } from "../../parts/when";
import { mustOperate } from "../../people/session";
import { spoken } from "../../words/spoken.server";
import { OfferSheet } from "../offer-sheet";
import { press } from "../presses";
import { More, SwitchOff } from "../switches";
import { OfflineFields } from "./offline-fields";
import type { Route } from "./+types/edit-offline";

export const meta: Route.MetaFunction = () => [{ title: "Offer · Zahlung" }];

async function mustFindOffer(context: Context, storefrontId: string, offerId: string) {
  const rt = context.get(runtimeContext);
  const now = await mustStandAt(context, storefrontId);
  const found = anyOfferIn(now, offerId);
  if (found?.way === "provider") throw redirect(`/s/${storefrontId}/offer/${offerId}`);
  if (!found) throw data("There is no such offer here.", { status: 404 });
  return { rt, now, storefront: now.storefront, found };
}

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const { rt, now, storefront, found } = await mustFindOffer(context, params.storefront, params.offer);
  const { offer, working, live } = found;
  const [storefronts, open] = await Promise.all([allStorefronts(rt), openPaymentsOf(rt, offer.id)]);
  return spoken({
    id: offer.id,
    name: nameOf(found),
    off: { test: offer.offInTest, live: offer.offInLive },
    open,
    person: context.get(personContext).email,
    words: Object.fromEntries(storefront.languages.map((one) => [one, wordsFor(one)])),
    elsewhere: storefronts.filter((one) => one.id !== storefront.id).map(({ id, name }) => ({ id, name })),
    working: {
      number: working.number,
      document: working.document,
      person: working.person,
      at: working.createdAt,
    },
    live: live ? { number: live.number } : null,
    lacks: offlineLacks(storefront, found),
    terms: { ...termsFor(storefront, found), groupNames: storefront.groups },
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

export default function EditOffline({ loaderData }: Route.ComponentProps) {
  const { name, working, live, terms, off, lacks } = loaderData;
  return (
    <OfferSheet
      view={loaderData}
      provider={null}
      statesOf={() => offlineStates}
      way={(part) => <OfflineFields {...part} languages={terms.languages} />}
      head={
        <>
          <h1>{name || "An offer without a name"}, without a provider</h1>
          <p>
            Working revision {working.number}, saved <When at={working.at} /> by {working.person}. Test runs
            it; live runs {live ? `revision ${live.number}` : "nothing yet"}.
          </p>
          <PutLive working={working.number} live={live?.number ?? null} lacks={lacks} />
        </>
      }
      presses={
        <>
          <Row $gap={1}>
            <SwitchOff mode="test" off={off.test} />
            {live && <SwitchOff mode="live" off={off.live} />}
          </Row>
          <More
            live={live !== null && !off.live}
            open={loaderData.open}
            elsewhere={loaderData.elsewhere}
            label={name}
          />
        </>
      }
    />
  );
}

/** Has live run what was saved, once nothing is lacking; what is, is said with the way to its field. */
function PutLive({
  working,
  live,
  lacks,
}: {
  working: number;
  live: number | null;
  lacks: { path: string; says: string }[];
}) {
  const fetcher = useFetcher<{ ok: boolean; clash?: string }>();
  if (lacks.length > 0)
    return (
      <Stack $gap={0.2}>
        <Says meaning="waits">
          {live === null ? "It cannot go live yet." : "What is saved cannot go live yet."}
        </Says>
        {lacks.map((one) => (
          <Small key={one.path + one.says}>
            <a href={`#${fieldId(one.path)}`}>{one.says}</a>
          </Small>
        ))}
      </Stack>
    );
  if (live === working) return <Says meaning="proven">live runs what is saved</Says>;
  return (
    <fetcher.Form method="post">
      <Row>
        <Button $kind="main" name="press" value="put-live" disabled={fetcher.state !== "idle"}>
          Put revision {working} live
        </Button>
        {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.clash}</Wrong>}
      </Row>
    </fetcher.Form>
  );
}
