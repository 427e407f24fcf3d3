import { type ReactNode, useRef, useState } from "react";
import { useFetcher, useRevalidator } from "react-router";
import { styled } from "styled-components";
import { saysTheSame } from "#core/merge";
import type { Basket } from "#core/offers/baskets";
import type { Candidate } from "#core/offers/decide";
import type { Zone } from "#core/offers/zones";
import type { Look } from "#core/looks/look";
import type { OfferDocument, OfferTerms } from "#core/offers/offer";
import type { PaymentState } from "#core/payments/facts";
import type { CheckoutWords } from "../checkouts/words";
import { settingWords } from "./change-words";
import { useAnswer } from "../parts/answer";
import { ErrorSummary } from "../parts/error-summary";
import { Button } from "../parts/form";
import { LeaveAsk } from "../parts/leave-ask";
import { Note, Says } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import { offering } from "../words/offering";
import { BothVersions } from "../parts/both-versions";
import { type Draft, draftOf, readDraft } from "./draft";
import { ChargeFields } from "./charge-fields";
import { SignFields } from "./sign-fields";
import { Following, type FollowingView } from "./following";
import { type OfferPart, Rules, Stages, Wording } from "./fields";
import { Mirror } from "./mirror";
import { RulesEditor } from "./rules-editor";
import { useDraft } from "../parts/use-draft";
import { t } from "../words/pages/offers";

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
const Below = styled.div`
  &:not(:empty) {
    margin-bottom: 1.3rem;
  }
`;
const SaveBar = styled.div`
  position: sticky;
  bottom: 0;
  background: ${color.sheet};
  border-top: 1.5px solid ${color.ink};
  padding: 0.7rem 0;
`;

/** What the sheet of an offer is about, whichever way its money moves. */
export interface OfferView {
  id: string;
  person: string;
  working: { number: number; document: OfferDocument; person: string };
  terms: OfferTerms & { groupNames: { id: string; name: string }[] };
  storefront: { id: string; name: string; country: string; locale: string };
  baskets: readonly Basket[];
  candidates: readonly Candidate[];
  zones: readonly Zone[];
  following: FollowingView;
  /** The viewer’s time zone, which rules about hours begin with. */
  timeZone: string;
  /** When the page was made, milliseconds since the epoch. */
  at: number;
  /** How test checkouts look. */
  look: Look;
  /** The checkout’s words in each language of the storefront. */
  words: Readonly<Record<string, CheckoutWords>>;
}

type Answer =
  | { ok: true; revision: number; left: string[] }
  | { ok: false; problems: { path: string; says: string }[] }
  | { ok: false; overtakenBy: { number: number; person: string } };

/** The sheet on which an offer is edited, with the shopper’s mirror beside it. */
export function OfferSheet({
  view,
  head,
  presses,
  provider,
  statesOf,
  way,
}: {
  view: OfferView;
  head: ReactNode;
  presses: ReactNode;
  /** Whose name alone says nothing to shoppers; null: no provider’s. */
  provider: string | null;
  /** The states that its payments can reach. */
  statesOf: (draft: Draft) => readonly PaymentState[];
  /** What only this way of moving money has to say. */
  way: (part: OfferPart) => ReactNode;
}) {
  const { working, terms, storefront } = view;
  const fetcher = useFetcher<Answer>();
  const name = `draft ${view.person} offer ${view.id}`;
  const saved = draftOf(working.document, terms.currencies);
  const { draft, dirty, restored, basedOn, edit, confirm, forget, overtaken, takenIn, blocker } = useDraft(
    name,
    working.number,
    saved,
    (one) => saysTheSame(readDraft(one, storefront.locale).document, working.document),
  );
  const [pressed, setPressed] = useState(false);
  const { document, problems } = readDraft(draft, storefront.locale);
  const unread = offering(storefront.locale).spoken(problems);
  const answer = fetcher.data;
  const refused = answer && !answer.ok && "problems" in answer ? answer.problems : [];
  const complaints = [...unread, ...refused];
  const justSaved = answer?.ok && "revision" in answer && fetcher.state === "idle" && !dirty;
  const sent = useRef({ draft, name });
  const { revalidate } = useRevalidator();
  useAnswer(answer, (one) => {
    // What it saved is no draft any more.
    if (one.ok) confirm(one.revision, sent.current.draft, sent.current.name);
    // Somebody else's revision that was saved between reading and pressing: it is read, and both are shown.
    else if ("overtakenBy" in one) void revalidate();
  });
  const save = () => {
    setPressed(true);
    if (unread.length > 0) return;
    sent.current = { draft, name };
    void fetcher.submit(
      { press: "save", document: JSON.stringify(document), basedOn: String(basedOn) },
      { method: "post" },
    );
  };
  const part = { draft, edit, problems: complaints };
  return (
    <>
      <PageHead>
        <div>{head}</div>
        <Stack $gap={0.3}>{presses}</Stack>
      </PageHead>
      <Below>
        <Following following={view.following} locale={storefront.locale} />
      </Below>
      <Halves>
        <Sheet>
          <Stack $gap={1.6}>
            {restored && dirty && <Note meaning="waits">{t("your-unsaved-work-from-before")}</Note>}
            <Wording
              draft={draft}
              edit={edit}
              languages={terms.languages}
              provider={provider}
              problems={complaints}
            />
            <SignFields {...part} />
            <ChargeFields {...part} terms={terms} />
            <Rules draft={draft} edit={edit} terms={terms} problems={complaints} />
            <RulesEditor {...part} zones={view.zones} timeZone={view.timeZone} />
            {way(part)}
            <Stages
              draft={draft}
              edit={edit}
              stages={terms.stages}
              states={statesOf(draft)}
              problems={complaints}
            />
            <SaveBar>
              <Stack $gap={0.5}>
                {overtaken && (
                  <BothVersions
                    overtaken={overtaken}
                    says={t("person-saved-revision-meanwhile", {
                      person: <strong>{working.person}</strong>,
                      number: working.number,
                    })}
                    nameOf={settingWords}
                  />
                )}
                {takenIn.length > 0 && dirty && (
                  <Note meaning="waits">
                    {t("person-saved-revision-number-meanwhile", {
                      person: working.person,
                      number: working.number,
                      takenIn: takenIn.map(settingWords).join(", "),
                    })}
                  </Note>
                )}
                {justSaved && answer.left.length > 0 && (
                  <Note meaning="waits">
                    <ul>
                      {answer.left.map((one) => (
                        <li key={one}>{one}</li>
                      ))}
                    </ul>
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
                    {t("saving", { idle: fetcher.state === "idle" ? "yes" : "no" })}
                  </Button>
                  {dirty && (
                    <Button type="button" onClick={forget}>
                      {t("discard")}
                    </Button>
                  )}
                  {overtaken ? (
                    <Says meaning="waits">{t("choose-above-which-goes-on")}</Says>
                  ) : dirty ? (
                    <Says meaning="waits">{t("not-saved-yet")}</Says>
                  ) : justSaved ? (
                    <Says meaning="proven" role="status">
                      {t("saved-as-revision-number", { number: working.number })}
                    </Says>
                  ) : (
                    <Small>{t("all-is-saved")}</Small>
                  )}
                </Row>
              </Stack>
            </SaveBar>
          </Stack>
        </Sheet>
        <Mirror
          offerId={view.id}
          document={document}
          candidates={view.candidates}
          terms={terms}
          storefront={storefront}
          dirty={dirty}
          at={view.at}
          look={view.look}
          baskets={view.baskets}
          words={view.words}
        />
      </Halves>
      <LeaveAsk blocker={blocker} says={t("what-you-edited-in-this")} />
    </>
  );
}
