import { data, Link } from "react-router";
import { styled } from "styled-components";
import { stateWords } from "#core/payments/facts";
import { methodOf, paymentPageOf, type Profile, takesEvidence } from "#core/profiles/profile";
import type { ByLines } from "#core/orders/by-lines";
import type { Order } from "#core/orders/order";
import { hasRoom } from "#core/orders/paid";
import { payoutsOfPayment } from "#server/payouts/list";
import { checkoutOf } from "#server/checkouts/checkouts";
import { expectedFeeOf } from "#server/costs/charged";
import { captureDueOf } from "#server/payments/held-back";
import { actionsOf } from "#server/payments/actions";
import { fold, isOver } from "#core/payments/fold";
import { notesOf } from "#server/payments/notes";
import { refundRequestsOf } from "#server/payments/second-person";
import { newsAbout } from "#server/outbox/about";
import { findingsAbout } from "#server/findings/findings";
import { operationsOf } from "#server/operations/operations";
import { newerKeysOf } from "#server/payments/newer-keys";
import { orderHere } from "#server/orders/list";
import { paymentOf } from "#server/payments/record";
import { receiptAddress, receiptView } from "#server/receipts/receipt-view";
import { receiptsOf } from "#server/receipts/receipts";
import { isThroughProvider } from "#server/payments/road";
import { type Story, storyOf } from "#server/payments/story";
import type { Payment } from "#server/database/rows";
import { type Context, personContext, runtimeContext } from "../context";
import { formOf } from "../form-of";
import type { Looking } from "../frame/looking";
import { localeOf, mustFindStorefront, mustStandAt } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { useLive } from "../parts/live";
import { ModePlate, Note, Says, StateMark } from "../parts/marks";
import { When } from "../parts/when";
import { PageHead, Sheet, Stack } from "../parts/sheet";
import { Score } from "../score/score";
import { type EntryView, OfflineActions } from "./offline-actions";
import { HeldBack } from "./held-back";
import { PaymentActions } from "./payment-actions";
import { FindingPresses } from "../findings/finding-presses";
import { Facts } from "./payment-facts";
import { PaymentNews } from "./payment-news";
import { PaymentDispute } from "./payment-dispute";
import { PaymentReview } from "./payment-review";
import { PaymentReceipts } from "./payment-receipts";
import { PaymentNotes } from "./payment-notes";
import { RefundRequests } from "./refund-requests";
import { TakeLate } from "./take-late";
import { press } from "./presses";
import { refusalWords } from "./fact-words";
import { Operations } from "./payment-operations";
import { PaymentSlips } from "./payment-slips";
import { slipsOf } from "#server/ways/offline/slips";
import { PaymentOrder } from "./payment-order";
import { PaymentStands } from "./payment-stands";
import { dayOf, zoneOf } from "../parts/zone";
import { spokenIn } from "../words/spoken.server";
import type { Route } from "./+types/payment";
import { t } from "../words/pages/payment";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  {
    title: t("order-reference-zahlung", {
      orderReference: loaderData?.payment.orderReference ?? t("payment"),
    }),
  },
];

async function mustFindPayment(context: Context, storefrontId: string, id: string) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, storefrontId);
  const payment = await paymentOf(rt, id);
  if (payment?.storefrontId !== storefront.id) throw data(t("there-is-no-such-payment"), { status: 404 });
  const profile = isThroughProvider(payment)
    ? (await rt.library.version(payment.profileVersionId)).profile
    : null;
  return { rt, storefront, payment, profile };
}

/** What the page says of the provider that moves a payment's money, and lets people ask of it. */
const throughView = (profile: Profile, payment: Payment, newerKeys: boolean) => ({
  provider: profile.name,
  capturesAgain: methodOf(profile, payment.methodId)?.severalCaptures ?? false,
  canReview: profile.operations.decideReview !== undefined,
  canDispute: {
    answer: profile.operations.answerDispute !== undefined,
    files: takesEvidence(profile),
    accept: profile.operations.acceptDispute !== undefined,
  },
  dashboard: paymentPageOf(profile, payment.mode, { ref: payment.providerRef, reference: payment.reference }),
  newerKeys,
});

/** What people wrote down that came, without what they took back. */
function entriesOf(facts: readonly FactRow[]): EntryView[] {
  const entries = facts.flatMap(({ source, statement, at, person }) =>
    source === "admin" && statement.object === "capture"
      ? [{ statement, entry: { once: statement.id, amount: statement.amount, on: at, person } }]
      : [],
  );
  const over = new Set(
    entries.flatMap(({ statement }) => (statement.state === "failed" ? [statement.id] : [])),
  );
  return entries
    .filter(({ statement }) => !over.has(statement.id))
    .map(({ statement: { text }, entry }) => ({ ...entry, note: typeof text === "string" ? text : null }));
}

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const { rt, storefront, payment, profile } = await mustFindPayment(
    context,
    params.storefront,
    params.payment,
  );
  const [
    checkout,
    story,
    allowed,
    news,
    operations,
    findings,
    newer,
    notes,
    requests,
    paid,
    receipts,
    slips,
  ] = await Promise.all([
    checkoutOf(rt, payment.checkoutId),
    storyOf(rt, payment),
    profile && actionsOf(rt, payment, profile),
    newsAbout(rt, payment.id),
    operationsOf(rt, payment.id),
    findingsAbout(rt, payment.id),
    newerKeysOf(rt, payment),
    notesOf(rt, payment.id),
    refundRequestsOf(rt, payment.id),
    payoutsOfPayment(rt, payment.id),
    receiptsOf(rt, payment.id),
    profile ? [] : slipsOf(rt, payment.id),
  ]);
  const ordered = checkout && (await orderHere(rt, storefront.id, checkout.orderId));
  const { parts: _, ...shown } = payment;
  const { refusal, dispute, authentication, instalments } = fold(story.facts);
  return spokenIn(localeOf(storefront)).spoken({
    payment: {
      ...shown,
      lastFour: /(\d{4})$/.exec(payment.instrument ?? "")?.[1] ?? null,
    },
    through: profile && throughView(profile, payment, newer !== null),
    entries: profile ? [] : entriesOf(story.facts),
    today: dayOf(rt.now(), zoneOf(request) ?? "UTC"),
    operations: operations.map(({ id, kind, amount, state, person, reason, asks, says, at, byLines }) => ({
      ...{ id, kind, amount, state, person, reason, asks, says, at },
      lines: byLines && checkout ? linesInWords(byLines, checkout.order) : null,
    })),
    looking: { mode: payment.mode, may: [] } satisfies Looking,
    form: rt.ids.next("form"),
    authentication,
    instalments,
    order: checkout?.order ?? null,
    orderId: ordered?.order.origin === "shop" ? ordered.order.id : null,
    orderWaits:
      ordered !== null &&
      hasRoom(ordered.order, {
        amount: payment.amount - payment.choiceFee,
        isPart: checkout?.order.payNow !== undefined,
      }),
    dispute:
      dispute?.state === "open"
        ? { amount: dispute.amount, reason: dispute.reason ?? null, due: dispute.due ?? null }
        : null,
    refusal: isOver(payment.state) ? refusal : null,
    notes,
    slips,
    requests,
    payouts: paid.map(({ payout: { id, state, paidAt }, amount, currency }) => ({
      ...{ id, state, paidAt, amount, currency },
    })),
    receipts: {
      receipts,
      page: checkout && (await receiptView(rt, checkout, payment)) ? receiptAddress(rt, checkout) : null,
      email: checkout?.order.email ?? "",
      waits: profile === null && payment.state === "pending",
    },
    captureDue: await captureDueOf(rt, payment),
    viewer: context.get(personContext).email,
    expectedFee: await expectedFeeOf(rt, await mustStandAt(context, params.storefront), payment),
    score: story.score,
    details: story.details,
    findings,
    facts: story.facts,
    allowed,
    news,
    locale: localeOf(storefront),
  });
}

/** The part of an order that an operation was about: what and how much of it. */
const linesInWords = ({ lines, shipping }: ByLines, order: Order): string =>
  [
    ...lines.map(({ line, quantity }) => `${quantity} × ${order.lines[line]?.name ?? "?"}`),
    ...(shipping ? ["shipping"] : []),
  ].join(", ");

type FactRow = Story["facts"][number];

export async function action({ request, params, context }: Route.ActionArgs) {
  const { person } = mustOperate(context);
  const { rt, storefront, payment } = await mustFindPayment(context, params.storefront, params.payment);
  const form = await formOf(request);
  const zone = zoneOf(request) ?? "UTC";
  return press({ rt, person: person.email, storefront, payment, form, zone });
}

const Halves = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1.4fr) minmax(0, 1fr);
  gap: 1.3rem;
  align-items: start;
  @media (max-width: 55rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
export default function PaymentPage({ loaderData, params }: Route.ComponentProps) {
  const { payment, through, order, score, details, facts, allowed, news, operations, findings, locale } =
    loaderData;
  const provider = through?.provider ?? "nobody";
  const underWay =
    ["created", "pending"].includes(payment.state) ||
    news.some((one) => !one.deliveredAt) ||
    operations.some((one) => one.state === "asked" || one.state === "unknown");
  useLive(true, underWay ? 1_500 : 6_000);
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <Link to={`/s/${params.storefront}/operate?mode=${payment.mode}`}>{t("all-payments")}</Link>
          <h1>
            {t("order-order-reference", { orderReference: payment.orderReference })}{" "}
            <ModePlate mode={payment.mode} />
          </h1>
        </div>
        <StateMark of={payment} />
      </PageHead>
      {findings
        .filter((one) => one.state !== "resolved" || one.person)
        .map((one) => (
          <Note key={one.id} meaning={one.state === "open" ? "wrong" : "none"}>
            <Stack $gap={0.3}>
              <span>
                <strong>{one.title}.</strong> {one.says}
              </span>
              {one.kind === "late" && one.state === "open" && loaderData.orderWaits && <TakeLate />}
              {one.kind === "held-back" && one.state === "open" && <HeldBack />}
              <FindingPresses finding={one} action={`/s/${params.storefront}/operate/findings`} />
            </Stack>
          </Note>
        ))}
      {loaderData.refusal && (
        <Note meaning="wrong">
          <strong>
            {stateWords(payment.state)}
            {refusalWords(loaderData.refusal)}
          </strong>
        </Note>
      )}
      {loaderData.dispute && through && (
        <PaymentDispute
          dispute={loaderData.dispute}
          provider={provider}
          can={through.canDispute}
          currency={payment.currency}
          locale={locale}
        />
      )}
      {payment.review === "open" && through && <PaymentReview provider={provider} can={through.canReview} />}
      <RefundRequests
        requests={loaderData.requests}
        currency={payment.currency}
        locale={locale}
        viewer={loaderData.viewer}
      />
      <PaymentSlips slips={loaderData.slips} here={`/s/${params.storefront}/operate/${payment.id}`} />
      <Halves>
        <Sheet>
          <Stack>
            <h2>{t("what-can-be-done")}</h2>
            {loaderData.captureDue !== null && (
              <Says meaning="waits">
                {t("captured-by-itself-when", { when: <When at={loaderData.captureDue} /> })}
              </Says>
            )}
            {through && allowed ? (
              <PaymentActions
                key={payment.id}
                allowed={allowed}
                payment={{ ...payment, capturesAgain: through.capturesAgain }}
                newerKeys={through.newerKeys}
                form={loaderData.form}
                locale={locale}
              />
            ) : (
              <OfflineActions
                key={payment.id}
                payment={payment}
                entries={loaderData.entries}
                form={loaderData.form}
                today={loaderData.today}
                locale={locale}
              />
            )}
          </Stack>
        </Sheet>
        <PaymentStands
          payment={payment}
          provider={through?.provider ?? null}
          dashboard={through?.dashboard ?? null}
          expectedFee={loaderData.expectedFee}
          authentication={loaderData.authentication}
          instalments={loaderData.instalments}
          payouts={loaderData.payouts}
          locale={locale}
        />
      </Halves>
      <Sheet>
        <Stack>
          <h2>{t("the-score")}</h2>
          <Score rows={score} details={details} />
        </Stack>
      </Sheet>
      <Halves>
        <Stack $gap={1.3}>
          <Operations
            operations={operations}
            provider={provider}
            currency={payment.currency}
            locale={locale}
          />
          <Facts facts={facts} provider={provider} currency={payment.currency} locale={locale} />
        </Stack>
        <Stack $gap={1.3}>
          <PaymentNotes notes={loaderData.notes} />
          {order && (
            <PaymentOrder
              order={order}
              choiceFee={payment.choiceFee}
              locale={locale}
              to={loaderData.orderId && `/s/${params.storefront}/operate/orders/${loaderData.orderId}`}
            />
          )}
          <PaymentNews news={news} fromShop={payment.origin === "shop"} />
          {payment.origin !== "rehearsal" && (
            <PaymentReceipts {...loaderData.receipts} currency={payment.currency} locale={locale} />
          )}
        </Stack>
      </Halves>
    </Stack>
  );
}
