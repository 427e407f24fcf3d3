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

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.title ?? "Proof"} · Zahlung` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const now = await mustStandAt(context, params.storefront);
  const proof = await proofOf(rt, params.proof);
  const offer = proof && offerIn(now, proof.offerId);
  const script = proof && caseOf(proof.caseId);
  if (!proof || !offer || !script) throw data("There is no such proof here.", { status: 404 });
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
          <Link to={`/s/${params.storefront}/rehearse`}>All cases</Link>
          <h1>{title}</h1>
          <p>
            {about} {how === "walked" ? "Walked through the checkout by a person" : "Rehearsed"},{" "}
            <When at={at} />.
          </p>
        </div>
        {state === "passed" ? <Says meaning="proven">passed</Says> : <Says meaning="wrong">{state}</Says>}
      </PageHead>
      {changed.length > 0 && (
        <Note meaning="waits">This proof is stale: {changed.join(", ")} changed since it was won.</Note>
      )}
      {error && <Note meaning="wrong">{error}</Note>}
      {verdicts.length > 0 && (
        <Sheet>
          <h2>What had to happen, and what did</h2>
          <Table>
            <thead>
              <tr>
                <th scope="col">What</th>
                <th scope="col">Expected</th>
                <th scope="col">Happened</th>
                <th scope="col">So</th>
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
                      <Says meaning="proven">holds</Says>
                    ) : (
                      <Says meaning="wrong">does not hold</Says>
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
            No payment was made of it.{" "}
            <Link to={`/s/${params.storefront}/exchanges?${exchanges}`}>What was said that day</Link> stands
            among the exchanges.
          </p>
        </Sheet>
      )}
      {story && payment && (
        <Sheet>
          <Stack>
            <h2>The score</h2>
            <p>
              Every message about it, as recorded.{" "}
              <Link to={`/s/${params.storefront}/operate/${payment.id}`}>The payment’s page</Link>
            </p>
            <Score rows={story.score} details={story.details} />
          </Stack>
        </Sheet>
      )}
    </Stack>
  );
}
