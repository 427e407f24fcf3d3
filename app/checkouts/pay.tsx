import { useCallback, useEffect, useRef, useState } from "react";
import { data, Form, isRouteErrorResponse, redirect, useNavigation, useSubmit } from "react-router";
import { styled } from "styled-components";
import { moneyText } from "#core/money/money";
import { askedOf } from "#core/orders/asked";
import { shopperLocale } from "#core/orders/view";
import { checkoutByToken } from "#server/checkouts/checkouts";
import { asksDevice, requestToken } from "#server/checkouts/device";
import { chooseOther, turnBack } from "#server/checkouts/leave";
import { agreeTo } from "#server/checkouts/agree";
import { takeSlip } from "#server/ways/offline/slips";
import { pay } from "#server/checkouts/pay";
import { type Again, challengeOf, lookOf, viewOf, wantsAgreement } from "#server/checkouts/view";
import { offerOf } from "#server/offers/offers";
import { storefrontOf } from "#server/storefronts/storefronts";
import { type Context, runtimeContext } from "../context";
import { formOf } from "../form-of";
import { Trouble } from "../frame/trouble";
import { Button, Check, Wrong } from "../parts/form";
import { Note } from "../parts/marks";
import { isLostConnection, useReturn } from "../parts/reach";
import { Row, Small, Stack } from "../parts/sheet";
import { CardFrame } from "./card-frame";
import { outcomeWords } from "./outcomes";
import { Card, CheckoutPage, Column, OfferChoices, OrderReceipt } from "./checkout-view";
import { type Fill, Instruments } from "./instruments";
import { deviceOf } from "./shopper-device";
import { ShopperPage } from "./shopper-page";
import { mandateOf } from "./mandate.server";
import { Placed } from "./placed";
import { Device, Onward, PaidScene, Scan, TurnBack, Waiting } from "./scenes";
import lostWords from "../words/lost.json";
import { type CheckoutWords, directionOf } from "./words";
import { wordsFor } from "./words.server";
import type { Route } from "./+types/pay";

const PlanList = styled.ul`
  list-style: none;
  padding: 0;
  margin: 0.3rem 0 0;
  display: grid;
  gap: 0.2rem;
  font-variant-numeric: tabular-nums;
`;

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData ? `${loaderData.storefront}` : "Checkout" },
  { name: "robots", content: "noindex" },
];

async function mustFind(context: Context, token: string) {
  const checkout = await checkoutByToken(context.get(runtimeContext), token);
  if (!checkout) throw data("There is no checkout at this address.", { status: 404 });
  return checkout;
}

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const checkout = await mustFind(context, params.token);
  const search = new URL(request.url).searchParams;
  const view = await viewOf(context.get(runtimeContext), checkout, search.get("offer"), deviceOf(request));
  const agreed = { shop: view.storefront, at: checkout.createdAt };
  return {
    ...{ ...view, says: search.get("says"), words: wordsFor(view.order.language) },
    mandate: mandateOf(checkout.order, agreed),
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const rt = context.get(runtimeContext);
  const checkout = await mustFind(context, params.token);
  const here = `/pay/${params.token}`;
  const form = await formOf(request);
  if (form.get("press") === "turn-back") {
    return redirect((await turnBack(rt, checkout)) === "cancelled" ? here : `${here}?says=tooLate`);
  }
  if (form.get("press") === "other-way") {
    return redirect((await chooseOther(rt, checkout)) === "free" ? here : `${here}?says=tooLate`);
  }
  if (form.get("press") === "slip") {
    const sent = await takeSlip(rt, checkout, form.get("slip"));
    return redirect(sent.ok ? here : `${here}?says=slip-${sent.because}`);
  }
  const token = String(form.get("token") ?? "");
  if (!/^[\x21-\x7e]{0,200}$/.test(token)) throw data("The card's token is malformed.", { status: 400 });
  const offerId = String(form.get("offer") ?? "");
  const total = String(form.get("total") ?? "");
  const seen = /^\d{1,15}$/.test(total) ? { seen: Number(total) } : {};
  const changed = `${here}?${new URLSearchParams({ says: "changed", offer: offerId })}`;
  const look = await lookOf(rt, checkout);
  if (look.terms && wantsAgreement(look, checkout)) {
    if (form.get("agreed") !== "yes")
      return redirect(`${here}?${new URLSearchParams({ says: "terms", offer: offerId })}`);
    await agreeTo(rt, checkout, look.terms.link);
  }
  const offer = await offerOf(rt, checkout.storefrontId, offerId);
  if (offer && asksDevice(offer)) {
    const asked = await requestToken(rt, checkout, offerId, { device: deviceOf(request), ...seen });
    if (asked.kind === "asked") return redirect(asked.address);
    if (asked.kind === "refused" && asked.because) return redirect(changed);
    return redirect(asked.kind === "refused" ? `${here}?says=refused` : here);
  }
  const words = wordsFor(checkout.order.language);
  const kept = String(form.get("kept") ?? "");
  const mandate = mandateOf(checkout.order, {
    shop: (await storefrontOf(rt, checkout.storefrontId))?.name ?? "",
    at: checkout.createdAt,
  });
  const paid = await pay(rt, checkout, offerId, token, {
    ...{ device: deviceOf(request), ...seen },
    ...(kept && { kept }),
    // What is agreed to is written down in the words that were read.
    ...(mandate && { mandate: { words: mandate.join("\n"), language: checkout.order.language } }),
    ...(form.get("keep") === "yes" && {
      keep: { words: `${words.keepCard}\n${words.keepSays}`, language: checkout.order.language },
    }),
  });
  if (paid.kind === "refused" && paid.because === "total-changed") return redirect(changed);
  if (paid.kind === "refused") return redirect(`${here}?says=refused`);
  const challenge = paid.kind === "payment" ? await challengeOf(rt, paid.payment) : null;
  return redirect(challenge ?? here);
}

export default function Pay({ loaderData }: Route.ComponentProps) {
  const { scene, order, says, words } = loaderData;
  const filling = useRef<((fill: Fill) => void) | null>(null);
  const said =
    says === "refused"
      ? words.refused
      : says === "tooLate"
        ? words.tooLate
        : says === "changed"
          ? words.totalChanged
          : null;
  return (
    <ShopperPage view={loaderData} words={words}>
      <OrderReceipt order={order} words={words} />
      {said && <Note meaning="wrong">{said}</Note>}
      <SceneView view={loaderData} words={words} filling={filling} />
      {scene.name === "choose" && scene.instruments.length > 0 && (
        <Instruments
          instruments={scene.instruments}
          words={words}
          onFill={scene.frame?.fill ? (fill) => filling.current?.(fill) : null}
          says={scene.pays === "frame" ? words.testSays : words.testActs}
        />
      )}
    </ShopperPage>
  );
}

/**
 * When an answer did not come, nobody here knows whether the payment went through: the page is asked for again,
 * which shows where it stands and cannot charge twice.
 */
export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  useReturn(isLostConnection(error));
  if (isRouteErrorResponse(error) && error.status < 500)
    return <Trouble status={error.status} says={String(error.data)} />;
  const language = typeof navigator === "undefined" ? "en" : navigator.language;
  const known = lostWords as Record<string, typeof lostWords.en>;
  const words = known[language.split("-")[0] ?? ""] ?? lostWords.en;
  return (
    <CheckoutPage $test={false} as="main" lang={language} dir={directionOf(language)}>
      <Column>
        <Card role="alert">
          <Stack>
            <h1>{words.lost}</h1>
            <p>{words.lostSays}</p>
            <Button as="a" href="" $kind="main">
              {words.lookAgain}
            </Button>
          </Stack>
        </Card>
      </Column>
    </CheckoutPage>
  );
}

type View = Route.ComponentProps["loaderData"];
type Filling = React.RefObject<((fill: Fill) => void) | null>;

function SceneView({ view, words, filling }: { view: View; words: CheckoutWords; filling: Filling }) {
  const { scene, order, own } = view;
  switch (scene.name) {
    case "choose":
      return <Choose view={view} scene={scene} words={words} filling={filling} />;
    case "waiting":
      return <Waiting words={words} own={own} />;
    case "challenge":
      return <Onward scene={scene} words={words} />;
    case "device":
      return <Device address={scene.address} words={words} />;
    case "code":
      return <Scan code={scene.code} until={scene.until} words={words} />;
    case "placed":
      return <Placed scene={scene} order={order} says={view.says} words={words} />;
    case "paid":
      return <PaidScene words={words} own={own} instrument={scene.instrument} back={order.returnAddress} />;
    default: {
      const over = overWords(words)[scene.name];
      return (
        <Card role="status">
          <Stack>
            <h2>{over.title}</h2>
            <p>{over.says}</p>
            {own && <p>{own}</p>}
            <Row>
              <Button as="a" href={order.returnAddress} $kind="main">
                {words.toShop}
              </Button>
            </Row>
          </Stack>
        </Card>
      );
    }
  }
}

function Choose({
  view: { order, look, agreed, says, own, mandate },
  scene,
  words,
  filling,
}: {
  view: View;
  scene: Extract<View["scene"], { name: "choose" }>;
  words: CheckoutWords;
  filling: Filling;
}) {
  const submit = useSubmit();
  const navigation = useNavigation();
  const sent = useRef(false);
  const { chosen } = scene;
  const total = String(askedOf(order) + (order.charge ?? 0));
  const terms = look.terms?.required && !agreed ? look.terms : null;
  const [agrees, setAgrees] = useState(false);
  // A token that came before the shopper agreed; it is used once they do, and for the offer it was made for alone.
  const [kept, setKept] = useState<{ offer: string; token: string } | null>(null);
  const held = kept !== null && kept.offer === chosen ? kept.token : null;
  const mayPay = terms === null || agrees;
  const payWith = useCallback(
    (token: string) => {
      // One token pays once; the server holds to one payment whatever happens here.
      if (sent.current || !chosen) return;
      sent.current = true;
      const keep = document.querySelector<HTMLInputElement>("#keep")?.checked;
      void submit(
        {
          ...{ press: "pay", offer: chosen, total, token },
          ...(agrees && { agreed: "yes" }),
          ...(keep && { keep: "yes" }),
        },
        { method: "post" },
      );
    },
    [agrees, chosen, submit, total],
  );
  const onToken = useCallback(
    (token: string) => {
      if (mayPay) payWith(token);
      else if (chosen) setKept({ offer: chosen, token });
    },
    [chosen, mayPay, payWith],
  );
  useEffect(() => {
    if (held === null || !agrees) return;
    setKept(null);
    payWith(held);
  }, [held, agrees, payWith]);
  const paying = navigation.formData?.get("press") === "pay";
  useEffect(() => {
    if (navigation.state === "idle") sent.current = false;
  }, [navigation.state]);
  const button = scene.offers.find(({ id }) => id === chosen)?.button;
  const again = scene.again && againWords(scene.again, words);
  return (
    <Card>
      <Stack>
        {again && !paying && (
          <Note meaning="wrong">
            {again} {own} {words.keep}
          </Note>
        )}
        <Form method="get" replace>
          <Stack $gap={0.7}>
            <OfferChoices
              offers={scene.offers}
              order={order}
              chosen={chosen}
              most={look.mostShown}
              words={words}
              onChoose={(offer) => void submit({ offer }, { method: "get", replace: true })}
            />
            {/* Without scripts a choice is sent by its own button; with them it is taken as it is made. */}
            {!chosen ? (
              <Button $kind="main">{words.go}</Button>
            ) : (
              scene.offers.length > 1 && (
                <noscript>
                  <Button>{words.go}</Button>
                </noscript>
              )
            )}
          </Stack>
        </Form>
        {chosen && !paying && mandate && (
          <Small as="ul">
            {mandate.map((line, i) => (
              <li key={line}>{i ? line : <strong>{line}</strong>}</li>
            ))}
          </Small>
        )}
        {terms && chosen && !paying && (
          <Agree
            link={terms.link}
            wrong={held !== null || says === "terms"}
            words={words}
            onAgree={setAgrees}
          />
        )}
        {chosen && !paying && scene.kept.length > 0 && (
          // Where something else is paid with by a press as well, that one has the agreement's own box.
          <Form method="post" replace id={terms && scene.pays === "frame" ? AGREES : undefined}>
            <input type="hidden" name="offer" value={chosen} />
            <input type="hidden" name="total" value={total} />
            <input type="hidden" name="press" value="pay" />
            {agrees && scene.pays !== "frame" && <input type="hidden" name="agreed" value="yes" />}
            <Stack $gap={0.5}>
              {scene.kept.map(({ id, name }, i) => (
                <Button key={id} $kind={i ? undefined : "main"} name="kept" value={id}>
                  {words.payKept.replace("{name}", name)}
                </Button>
              ))}
              <strong>{words.otherCard}</strong>
            </Stack>
          </Form>
        )}
        {!paying && scene.mayKeep && (
          <div>
            <Check>
              <input type="checkbox" id="keep" />
              {words.keepCard}
            </Check>
            <Small>{words.keepSays}</Small>
          </div>
        )}
        {paying ? (
          <Note meaning="running">
            {words.paying} {words.doNotClose}
          </Note>
        ) : (
          scene.frame && (
            <CardFrame
              key={scene.frame.src + String(scene.again !== null)}
              frame={scene.frame}
              title={words.frame}
              words={words}
              filling={filling}
              onToken={onToken}
            />
          )
        )}
        {!paying && scene.plans.length > 0 && <Plans plans={scene.plans} order={order} words={words} />}
        {!paying && chosen && scene.pays !== "frame" && (
          <PayElsewhere
            offer={chosen}
            total={total}
            agrees={terms !== null}
            note={noteOf(words)[scene.pays ?? "redirect"]}
            press={button ?? (scene.pays === "offline" ? words.placeOrder : words.payNow)}
          />
        )}
        {!paying && <TurnBack words={words} />}
      </Stack>
    </Card>
  );
}

/** What paying in parts comes to, before anything is agreed. */
function Plans({
  plans,
  order,
  words,
}: {
  plans: Extract<View["scene"], { name: "choose" }>["plans"];
  order: View["order"];
  words: CheckoutWords;
}) {
  const locale = shopperLocale(order);
  const percent = new Intl.NumberFormat(locale, { style: "percent", maximumFractionDigits: 2 });
  return (
    <div>
      <strong>{words.plans}</strong>
      <PlanList>
        {plans.map(({ payments, each, total, rate }) => (
          <li key={payments}>
            {payments} × {moneyText(each, locale)} = {moneyText(total, locale)}
            {rate !== null && (
              <Small as="span">
                {" "}
                {words.yearly} {percent.format(rate / 100)}
              </Small>
            )}
          </li>
        ))}
      </PlanList>
    </div>
  );
}

/** The form that the shopper's agreement goes with, wherever it stands. */
const AGREES = "agrees";

/** The terms, to be agreed to before anything is paid. */
function Agree({
  link,
  wrong,
  words,
  onAgree,
}: {
  link: string;
  wrong: boolean;
  words: CheckoutWords;
  onAgree: (agrees: boolean) => void;
}) {
  return (
    <div>
      <Check>
        <input
          type="checkbox"
          name="agreed"
          value="yes"
          form={AGREES}
          required
          aria-invalid={wrong || undefined}
          onChange={(event) => onAgree(event.currentTarget.checked)}
        />
        <a href={link} target="_blank" rel="noreferrer">
          {words.agree}
        </a>
      </Check>
      <Wrong>{wrong ? words.pleaseAgree : null}</Wrong>
    </div>
  );
}

/** What a shopper may expect who goes on, by how the chosen offer is paid. */
const noteOf = (words: CheckoutWords) => ({
  frame: "",
  redirect: words.payNote,
  code: words.payNote,
  device: words.deviceNote,
  offline: words.placeNote,
});

/** What is said at the end of a checkout that was not paid. */
const overWords = (words: CheckoutWords) => ({
  cancelled: outcomeWords("cancelled", words),
  expired: outcomeWords("expired", words),
  nothing: { title: words.nothing, says: words.nothingSays },
});

function againWords(again: Again, words: CheckoutWords): string {
  switch (again.kind) {
    case "failed":
      return words.failed;
    case "refused-on-device":
      return words.refusedOnDevice;
    default:
      return again.by === "card" ? words.declined[again.reason] : words.declinedOther[again.reason];
  }
}

/** Pays without anything typed here: the shopper goes on at the provider's page, or scans a code. */
function PayElsewhere({
  offer,
  total,
  agrees,
  press,
  note,
}: {
  offer: string;
  /** What the shopper is shown; another total is not asked for without a word. */
  total: string;
  /** Whether the shopper has to agree to the terms with it. */
  agrees: boolean;
  press: string;
  note: string;
}) {
  return (
    <Form method="post" replace id={agrees ? AGREES : undefined}>
      <input type="hidden" name="offer" value={offer} />
      <input type="hidden" name="total" value={total} />
      <Stack $gap={0.5}>
        <Button $kind="main" name="press" value="pay">
          {press}
        </Button>
        <Small>{note}</Small>
      </Stack>
    </Form>
  );
}
