import { useState } from "react";
import { data, Link, useBlocker, useFetcher } from "react-router";
import { styled } from "styled-components";
import { paymentStates, type PaymentState, stateWords } from "#core/payments/facts";
import { occurringStates, proposeStages, type StageMap, unmappedStates } from "#core/payments/stages";
import { offlineStates } from "#core/ways/offline/states";
import { methodOf } from "#core/profiles/profile";
import { nameOf } from "#server/offers/names";
import { saveOffer } from "#server/offers/offers";
import { type AnyOffer, anyOfferIn } from "#server/storefronts/now";
import { mustStandAt } from "../frame/storefront-context";
import { SelectBox } from "../parts/select-box";
import { mustOperate } from "../people/session";
import { LeaveAsk } from "../parts/leave-ask";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import { say } from "../words/spoken.server";
import type { Route } from "./+types/stages";
import { t } from "../words/pages/offers-stages";

export const meta: Route.MetaFunction = () => [{ title: t("order-stages-zahlung") }];

/** The states that an offer's payments can reach. */
function statesOf(one: AnyOffer): readonly PaymentState[] {
  if (one.way === "offline") return offlineStates;
  const { refund = false, partialRefund = false } = methodOf(one.profile, one.offer.methodId) ?? {};
  return occurringStates(one.working.document.capture, { refund, partialRefund });
}

export async function loader({ params, context }: Route.LoaderArgs) {
  const { storefront, inOrder } = await mustStandAt(context, params.storefront);
  return {
    declared: storefront.stages,
    offers: inOrder.map((one) => ({
      id: one.offer.id,
      name: nameOf(one),
      account: one.way === "provider" ? one.connection.name : "",
      revision: one.working.number,
      states: statesOf(one),
      stages: one.working.document.stages,
    })),
  };
}

interface Change {
  offer: string;
  basedOn: number;
  stages: StageMap;
}
interface Answer {
  saved: string[];
  refused: string[];
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const now = await mustStandAt(context, params.storefront);
  let changes: Change[];
  try {
    changes = JSON.parse(String((await request.formData()).get("changes"))) as Change[];
    if (!Array.isArray(changes) || changes.length > 200) throw new SyntaxError("no list");
  } catch {
    throw data(t("the-form-is-malformed"), { status: 400 });
  }
  const answer: Answer = { saved: [], refused: [] };
  for (const change of changes) {
    const offer = anyOfferIn(now, String(change?.offer));
    if (!offer) throw data(t("there-is-no-such-offer"), { status: 404 });
    const document = { ...offer.working.document, stages: change.stages };
    const saved = await saveOffer(rt, person.email, now.storefront, offer, document, Number(change.basedOn));
    if (saved.ok) answer.saved.push(offer.offer.id);
    else if ("overtakenBy" in saved)
      answer.refused.push(
        t("offer-was-saved-by-person", { offer: nameOf(offer), person: saved.overtakenBy.person }),
      );
    else answer.refused.push(...saved.problems.map((one) => `“${nameOf(offer)}”: ${say(one)}`));
  }
  return answer.refused.length > 0 ? data(answer, { status: 409 }) : answer;
}

const Scroller = styled.div`
  overflow-x: auto;
`;
const Matrix = styled.table`
  font-size: 0.93rem;
  th {
    text-align: left;
    font-weight: 600;
    padding: 0.2rem 0.6rem 0.2rem 0;
    white-space: nowrap;
    vertical-align: bottom;
  }
  thead th {
    border-bottom: 1.5px solid ${color.ink};
  }
  td {
    padding: 0.12rem 0.5rem 0.12rem 0;
    border-bottom: 1px solid ${color.rule};
  }
  tbody th {
    border-bottom: 1px solid ${color.rule};
  }
  select {
    min-height: 1.9rem;
    padding-block: 0.1rem;
    min-width: 9.5rem;
  }
`;

type Stages = Record<string, StageMap>;

export default function StagesPage({ loaderData, params }: Route.ComponentProps) {
  const { declared, offers } = loaderData;
  const fetcher = useFetcher<Answer>();
  const [edits, setEdits] = useState<Stages>({});
  const of = (id: string): StageMap => edits[id] ?? offers.find((one) => one.id === id)?.stages ?? {};
  const put = (id: string, stages: StageMap) => setEdits((before) => ({ ...before, [id]: stages }));
  const isChanged = ({ id, stages }: (typeof offers)[number]) =>
    edits[id] !== undefined && JSON.stringify(sorted(edits[id])) !== JSON.stringify(sorted(stages));
  const changed = offers.filter(isChanged);
  const states = paymentStates.filter((state) => offers.some((one) => one.states.includes(state)));
  const missing = offers.flatMap((one) =>
    unmappedStates(one.states, of(one.id), declared).map((state) => ({ one, state })),
  );
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) =>
      changed.length > 0 &&
      nextLocation.pathname !== "/sign-in" &&
      currentLocation.pathname !== nextLocation.pathname,
  );
  const propose = () => {
    for (const { id, states: occurring } of offers)
      put(id, { ...proposeStages(occurring, declared), ...known(of(id), declared) });
  };
  const copy = (from: string) => {
    for (const { id, states: occurring } of offers)
      if (id !== from)
        put(id, {
          ...of(id),
          ...Object.fromEntries(
            Object.entries(of(from)).filter(([state]) => occurring.includes(state as PaymentState)),
          ),
        });
  };
  const save = () => {
    const changes: Change[] = changed.map((one) => ({
      offer: one.id,
      basedOn: one.revision,
      stages: known(of(one.id), declared),
    }));
    void fetcher.submit({ changes: JSON.stringify(changes) }, { method: "post" });
  };
  return (
    <>
      <PageHead>
        <div>
          <h1>{t("order-stages")}</h1>
          <p>{t("which-of-the-shops-own")}</p>
        </div>
        <Row>
          <Button type="button" onClick={propose} disabled={declared.length === 0 || missing.length === 0}>
            {t("propose-what-is-missing")}
          </Button>
          <Button type="button" $kind="main" onClick={save} disabled={changed.length === 0}>
            {t("save")}
          </Button>
          {changed.length === 0 ? (
            <Small as="span">
              {t("nothing-was-changed", { noMissing: missing.length === 0 ? "yes" : "no" })}
            </Small>
          ) : (
            <Says meaning="waits">{t("changed-offers-changed", { changed: changed.length })}</Says>
          )}
        </Row>
      </PageHead>
      <Sheet>
        <Stack>
          {declared.length === 0 && (
            <Says meaning="waits">
              {t("the-shop-has-not-declared", {
                link: (inner) => <Link to={`/s/${params.storefront}/shop`}>{inner}</Link>,
              })}
            </Says>
          )}
          {fetcher.data?.refused.map((says) => (
            <Wrong key={says}>{says}</Wrong>
          ))}
          {offers.length === 0 ? (
            <Small>{t("nothing-is-offered-yet")}</Small>
          ) : (
            <Scroller tabIndex={0} role="region" aria-label={t("order-stages-by-offer")}>
              <Matrix>
                <thead>
                  <tr>
                    <th scope="col">{t("when-the-payment-is")}</th>
                    {offers.map((one) => (
                      <th scope="col" key={one.id}>
                        {one.name}
                        <Small as="span"> {one.account}</Small>
                        {offers.length > 1 && (
                          <div>
                            <Button
                              type="button"
                              $kind="bare"
                              onClick={() => copy(one.id)}
                              aria-label={t("copy-the-stages-of", {
                                name: one.name,
                                hasAccount: one.account ? "yes" : "no",
                                account: one.account,
                              })}
                            >
                              {t("copy-to-all")}
                            </Button>
                          </div>
                        )}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {states.map((state) => (
                    <tr key={state}>
                      <th scope="row">{stateWords(state)}</th>
                      {offers.map((one) => {
                        const stage = of(one.id)[state] ?? "";
                        const lacks = !declared.includes(stage);
                        return (
                          <td key={one.id}>
                            {one.states.includes(state) && (
                              <SelectBox
                                label={t("order-stage-of-name-when", {
                                  name: one.name,
                                  state: stateWords(state),
                                })}
                                bare
                                value={lacks ? "" : stage}
                                invalid={lacks}
                                onChange={(chosen) => put(one.id, { ...of(one.id), [state]: chosen })}
                                choices={[
                                  { id: "", name: t("choose") },
                                  ...declared.map((name) => ({ id: name, name })),
                                ]}
                              />
                            )}
                          </td>
                        );
                      })}
                    </tr>
                  ))}
                </tbody>
              </Matrix>
            </Scroller>
          )}
          {missing.length > 0 && offers.length > 0 && (
            <Small>{t("missing-still-without-a-stage", { missing: missing.length })}</Small>
          )}
        </Stack>
      </Sheet>
      <LeaveAsk blocker={blocker} says={t("the-stages-that-you-changed")} />
    </>
  );
}

/** Without stages that the shop does not know (any more). */
const known = (stages: StageMap, declared: readonly string[]): StageMap =>
  Object.fromEntries(Object.entries(stages).filter(([, stage]) => declared.includes(stage)));

const sorted = (stages: StageMap) => Object.entries(stages).sort(([a], [b]) => (a < b ? -1 : 1));
