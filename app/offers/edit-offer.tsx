import { useEffect, useState } from "react";
import { data, useFetcher, useRevalidator } from "react-router";
import { styled } from "styled-components";
import { occurringStates } from "#core/payments/stages";
import { methodOf } from "#core/profiles/profile";
import { servedBy } from "#server/connections/connections";
import { carrierOf } from "#server/offers/carrier";
import { candidatesIn } from "#server/offers/candidates";
import { termsOf } from "#server/offers/offers";
import { nameOf } from "#server/offers/names";
import { openPaymentsOf } from "#server/payments/open";
import { offerIn, runsInLive } from "#server/storefronts/now";
import { allStorefronts } from "#server/storefronts/storefronts";
import { type Context, personContext, runtimeContext } from "../context";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { settingWords } from "../cutover/change-words";
import { LeaveAsk } from "../parts/leave-ask";
import { ErrorSummary } from "../parts/error-summary";
import { Button } from "../parts/form";
import { Note, Says } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { color } from "../theme/tokens";
import { BothVersions } from "./both-versions";
import { draftOf, readDraft } from "./draft";
import { MoneyPath, Rules, Stages, Wording } from "./fields";
import { Mirror } from "./mirror";
import { press } from "./presses";
import { More, SwitchOff } from "./switches";
import { useDraft } from "./use-draft";
import { offering } from "../words/offering";
import { wordsFor } from "../checkouts/words.server";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/edit-offer";

export const meta: Route.MetaFunction = () => [{ title: "Offer · Zahlung" }];

async function mustFindOffer(context: Context, storefrontId: string, offerId: string) {
  const rt = context.get(runtimeContext);
  const now = await mustStandAt(context, storefrontId);
  const found = offerIn(now, offerId);
  if (!found) throw data("There is no such offer here.", { status: 404 });
  return { rt, now, storefront: now.storefront, found };
}

export async function loader({ params, context }: Route.LoaderArgs) {
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
  });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { person } = mustOperate(context);
  const { rt, storefront, found } = await mustFindOffer(context, params.storefront, params.offer);
  const form = await request.formData();
  return press({ rt, person: person.email, storefront, found, form });
}

const Halves = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(22rem, 27rem);
  gap: 1.5rem;
  align-items: start;
  @media (max-width: 60rem) {
    grid-template-columns: minmax(0, 1fr);
  }
  /* What is focused comes to lie above the bar of Save. */
  :is(input, select, button) {
    scroll-margin-block: 2rem 7rem;
  }
`;
const SaveBar = styled.div`
  position: sticky;
  bottom: 0;
  background: ${color.sheet};
  border-top: 1.5px solid ${color.ink};
  padding: 0.7rem 0;
`;

type Answer =
  | { ok: true; revision: number }
  | { ok: false; problems: { path: string; says: string }[] }
  | { ok: false; overtakenBy: { number: number; person: string } };

export default function EditOffer({ loaderData }: Route.ComponentProps) {
  const { offer, working, live, terms, storefront } = loaderData;
  const fetcher = useFetcher<Answer>();
  const saved = draftOf(working.document, terms.currencies);
  const { draft, dirty, restored, basedOn, edit, forget, overtaken, takenIn, blocker } = useDraft(
    `draft ${loaderData.person} offer ${offer.id}`,
    working.number,
    saved,
  );
  const [pressed, setPressed] = useState(false);
  const { document, problems } = readDraft(draft, storefront.locale);
  const unread = offering(storefront.locale).spoken(problems);
  const answer = fetcher.data;
  const refused = answer && !answer.ok && "problems" in answer ? answer.problems : [];
  const complaints = [...unread, ...refused];
  const justSaved = answer?.ok && "revision" in answer && fetcher.state === "idle" && !dirty;
  useEffect(() => {
    if (fetcher.state === "loading" && answer?.ok) forget();
  }, [fetcher.state, answer, forget]);
  // Somebody else's revision that was saved between reading and pressing: it is read, and both are shown.
  const late = answer && !answer.ok && "overtakenBy" in answer;
  const { revalidate } = useRevalidator();
  useEffect(() => {
    if (late) void revalidate();
  }, [late, answer, revalidate]);
  const save = () => {
    setPressed(true);
    if (unread.length > 0) return;
    void fetcher.submit(
      { press: "save", document: JSON.stringify(document), basedOn: String(basedOn) },
      { method: "post" },
    );
  };
  return (
    <>
      <PageHead>
        <div>
          <h1>
            {offer.name} through {offer.account}
          </h1>
          <p>
            Working revision {working.number}, saved <When at={working.at} /> by {working.person}. Test runs
            it; live runs {live ? `revision ${live.number}` : "nothing yet"}.
            {loaderData.ridesOn && ` Its money moves through ${loaderData.ridesOn}.`}
          </p>
        </div>
        <Stack $gap={0.3}>
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
        </Stack>
      </PageHead>
      <Halves>
        <Sheet>
          <Stack $gap={1.6}>
            {restored && dirty && <Note meaning="waits">Your unsaved work from before is back.</Note>}
            <Wording
              draft={draft}
              edit={edit}
              languages={terms.languages}
              provider={offer.provider}
              problems={complaints}
            />
            <Rules draft={draft} edit={edit} terms={terms} problems={complaints} />
            <MoneyPath draft={draft} edit={edit} terms={terms} problems={complaints} />
            <Stages
              draft={draft}
              edit={edit}
              stages={terms.stages}
              states={loaderData.states[draft.capture]}
              problems={complaints}
            />
            <SaveBar>
              <Stack $gap={0.5}>
                {overtaken && (
                  <BothVersions overtaken={overtaken} person={working.person} number={working.number} />
                )}
                {takenIn.length > 0 && dirty && (
                  <Note meaning="waits">
                    {working.person} saved revision {working.number} meanwhile; nothing of yours was lost.
                    Taken in: {takenIn.map(settingWords).join(", ")}.
                  </Note>
                )}
                <ErrorSummary problems={pressed && dirty ? complaints : []} />
                <Row>
                  <Button
                    type="button"
                    $kind="main"
                    onClick={save}
                    disabled={!dirty || overtaken !== null || fetcher.state !== "idle"}
                  >
                    {fetcher.state === "idle" ? "Save" : "Saving…"}
                  </Button>
                  {dirty && (
                    <Button type="button" onClick={forget}>
                      Discard
                    </Button>
                  )}
                  {overtaken ? (
                    <Says meaning="waits">choose above which goes on, then save</Says>
                  ) : dirty ? (
                    <Says meaning="waits">not saved yet</Says>
                  ) : justSaved ? (
                    <Says meaning="proven" role="status">
                      saved as revision {working.number}
                    </Says>
                  ) : (
                    <Small>All is saved.</Small>
                  )}
                </Row>
              </Stack>
            </SaveBar>
          </Stack>
        </Sheet>
        <Mirror
          offerId={offer.id}
          document={document}
          candidates={loaderData.candidates}
          terms={terms}
          storefront={storefront}
          dirty={dirty}
          words={loaderData.words}
        />
      </Halves>
      <LeaveAsk
        blocker={blocker}
        says="What you edited in this offer is not saved. It stays in this browser until you come back."
      />
    </>
  );
}
