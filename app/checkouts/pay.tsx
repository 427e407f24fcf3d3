import { lazy, useRef } from "react";
import { data, redirect } from "react-router";
import { askedOf } from "#core/orders/asked";
import { checkoutByToken } from "#server/checkouts/checkouts";
import { asksDevice, requestToken } from "#server/checkouts/device";
import { chooseOther, turnBack } from "#server/checkouts/leave";
import { agreeTo } from "#server/checkouts/agree";
import { takeSlip } from "#server/ways/offline/slips";
import { pay } from "#server/checkouts/pay";
import { challengeOf, lookOf, viewOf, wantsAgreement } from "#server/checkouts/view";
import { offerOf } from "#server/offers/offers";
import { storefrontOf } from "#server/storefronts/storefronts";
import { type Context, runtimeContext } from "../context";
import { formOf } from "../form-of";
import { Button } from "../parts/form";
import { Note } from "../parts/marks";
import { Row, Stack } from "../parts/sheet";
import { Choose, type Filling, type View } from "./choose";
import { outcomeWords } from "./outcomes";
import { Card, OrderReceipt } from "./checkout-view";
import { keepWords } from "./keep-words";
import { type Fill, Instruments } from "./instruments";
import { deviceOf } from "./shopper-device";
import { leadsNowhere } from "./missing.server";
import { ShopperPage } from "./shopper-page";
import { ShopperTrouble, titleOfTrouble } from "./shopper-trouble";
import { mandateOf } from "./mandate.server";
import { Device, Onward, PaidScene, Scan, Waiting } from "./scenes";
import { type CheckoutWords, wordsIn } from "./words";
import { wordsFor, wordsTextFor } from "./words.server";
import type { Route } from "./+types/pay";

// Few shoppers place an order without a provider: what they are shown comes only to them.
const Placed = lazy(() => import("./placed").then(({ Placed }) => ({ default: Placed })));

export const meta: Route.MetaFunction = ({ loaderData, error }) => [
  { title: loaderData?.storefront ?? titleOfTrouble(error) },
  { name: "robots", content: "noindex" },
];

async function mustFind(request: Request, context: Context, token: string) {
  const checkout = await checkoutByToken(context.get(runtimeContext), token);
  if (!checkout) throw leadsNowhere(request);
  return checkout;
}

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const checkout = await mustFind(request, context, params.token);
  const search = new URL(request.url).searchParams;
  const view = await viewOf(context.get(runtimeContext), checkout, search.get("offer"), deviceOf(request));
  const agreed = { shop: view.storefront, at: checkout.createdAt };
  const words = wordsFor(view.order.language);
  const { subscription } = checkout.order;
  const agreedForNothing = subscription !== undefined && askedOf(checkout.order) === 0;
  return {
    ...{ ...view, says: search.get("says"), words: wordsTextFor(view.order.language) },
    free: agreedForNothing ? (subscription.begins ? words.begun : words.chargedFromNow) : null,
    mandate: mandateOf(checkout.order, agreed),
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const rt = context.get(runtimeContext);
  const checkout = await mustFind(request, context, params.token);
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
  const pays = offer?.way === "provider" ? offer.versions[checkout.mode].profile.browser.kind : null;
  const keep = keepWords(words, pays);
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
      keep: { words: `${keep.label}\n${keep.says}`, language: checkout.order.language },
    }),
  });
  if (paid.kind === "refused" && paid.because === "total-changed") return redirect(changed);
  if (paid.kind === "refused") return redirect(`${here}?says=refused`);
  const challenge = paid.kind === "payment" ? await challengeOf(rt, paid.payment) : null;
  return redirect(challenge ?? here);
}

export default function Pay({ loaderData }: Route.ComponentProps) {
  const { scene, order, says } = loaderData;
  const words = wordsIn(loaderData.words);
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

export const ErrorBoundary = ShopperTrouble;

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
      return (
        <PaidScene
          words={words}
          own={own}
          instrument={scene.instrument}
          back={order.returnAddress}
          free={view.free}
        />
      );
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

/** What is said at the end of a checkout that was not paid. */
const overWords = (words: CheckoutWords) => ({
  cancelled: outcomeWords("cancelled", words),
  expired: outcomeWords("expired", words),
  nothing: { title: words.nothing, says: words.nothingSays },
});
