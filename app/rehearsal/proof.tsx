import { data, Link } from "react-router";
import { changedParts } from "#core/fingerprint";
import { said } from "#core/said";
import { caseOf, caseTitle } from "#core/rehearsal/cases";
import { offerIn } from "#server/storefronts/now";
import { partsOf } from "#server/offers/parts";
import { proofOf } from "#server/rehearsal/boards";
import { paymentOf } from "#server/payments/record";
import { storyOf } from "#server/payments/story";
import { runtimeContext } from "../context";
import { mustStandAt } from "../frame/storefront-context";
import { Note, Says } from "../parts/marks";
import { PageHead, Sheet, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";
import { Score } from "../score/score";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/proof";
import { t } from "../words/pages/rehearsal";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: t("title-zahlung", { title: loaderData?.title ?? t("proof") }) },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const now = await mustStandAt(context, params.storefront);
  const proof = await proofOf(rt, params.proof);
  const offer = proof && offerIn(now, proof.offerId);
  const script = proof && caseOf(proof.caseId);
  if (!proof || !offer || !script) throw data(t("there-is-no-such-proof"), { status: 404 });
  const payment = proof.paymentId ? await paymentOf(rt, proof.paymentId) : null;
  return spoken({
    title: caseTitle(script.id),
    about: said(`cases.${script.id}.about`),
    state: proof.state,
    how: proof.how,
    at: proof.endedAt ?? proof.startedAt,
    error: proof.error,
    verdicts: proof.verdicts,
    changed: changedParts(proof.parts, await partsOf(rt, now, offer)),
    payment: payment && { id: payment.id, reference: payment.reference },
    story: payment && (await storyOf(rt, payment)),
    // Where no payment was made, what was said stands among that day's exchanges.
    exchanges: new URLSearchParams({
      ...{ connection: proof.connectionId, mode: "test" },
      from: new Date(proof.startedAt).toISOString().slice(0, 10),
      to: new Date(proof.endedAt ?? proof.startedAt).toISOString().slice(0, 10),
    }).toString(),
  });
}

export default function Proof({ loaderData, params }: Route.ComponentProps) {
  const { title, about, state, how, at, error, verdicts, changed, payment, story, exchanges } = loaderData;
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <Link to={`/s/${params.storefront}/rehearse`}>{t("all-cases")}</Link>
          <h1>{title}</h1>
          <p>
            {t("about-rehearsed-when", {
              about,
              walked: how === "walked" ? "yes" : "no",
              when: <When at={at} />,
            })}
          </p>
        </div>
        {state === "passed" ? (
          <Says meaning="proven">{t("passed")}</Says>
        ) : (
          <Says meaning="wrong">{state}</Says>
        )}
      </PageHead>
      {changed.length > 0 && (
        <Note meaning="waits">{t("this-proof-is-stale-changed", { changed: changed.join(", ") })}</Note>
      )}
      {error && <Note meaning="wrong">{error}</Note>}
      {verdicts.length > 0 && (
        <Sheet>
          <h2>{t("what-had-to-happen-and")}</h2>
          <Table>
            <thead>
              <tr>
                <th scope="col">{t("what")}</th>
                <th scope="col">{t("expected")}</th>
                <th scope="col">{t("happened")}</th>
                <th scope="col">{t("so")}</th>
              </tr>
            </thead>
            <tbody>
              {verdicts.map((one) => (
                <tr key={one.what}>
                  <td>{one.what}</td>
                  <td>{one.expected}</td>
                  <td>{one.happened}</td>
                  <td>
                    {one.ok ? (
                      <Says meaning="proven">{t("holds")}</Says>
                    ) : (
                      <Says meaning="wrong">{t("does-not-hold")}</Says>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Sheet>
      )}
      {!payment && (
        <Sheet>
          <p>
            {t("no-payment-was-made-of", {
              link: (inner) => <Link to={`/s/${params.storefront}/exchanges?${exchanges}`}>{inner}</Link>,
            })}
          </p>
        </Sheet>
      )}
      {story && payment && (
        <Sheet>
          <Stack>
            <h2>{t("the-score")}</h2>
            <p>
              {t("every-message-about-it-as", {
                link: (inner) => <Link to={`/s/${params.storefront}/operate/${payment.id}`}>{inner}</Link>,
              })}
            </p>
            <Score rows={story.score} details={story.details} />
          </Stack>
        </Sheet>
      )}
    </Stack>
  );
}
