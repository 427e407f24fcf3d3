import { Form, redirect } from "react-router";
import { styled } from "styled-components";
import { lookIn } from "#core/looks/look";
import type { ButtonSession } from "#server/database/rows";
import { goOn, type Standing } from "#server/buttons/go-on";
import { endSession, sessionByToken } from "#server/buttons/sessions";
import { agreeTo } from "#server/checkouts/agree";
import { lookFor } from "#server/looks/looks";
import { offerOf } from "#server/offers/offers";
import { storefrontOf } from "#server/storefronts/storefronts";
import { methodOf } from "#core/profiles/profile";
import { Card, OrderReceipt } from "../checkouts/checkout-view";
import { leadsNowhere } from "../checkouts/missing.server";
import { ShopperPage } from "../checkouts/shopper-page";
import { ShopperTrouble, titleOfTrouble } from "../checkouts/shopper-trouble";
import { wordsFor } from "../checkouts/words.server";
import { type Context, runtimeContext } from "../context";
import { formOf } from "../form-of";
import { Button, Check, Wrong } from "../parts/form";
import { useLive } from "../parts/live";
import { Row, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import catalogue from "../words/buy.json";
import { embedWords } from "../embed/notice-words.server";
import type { Route } from "./+types/buy";

const Facts = styled.dl`
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 0.35rem 1rem;
  overflow-wrap: anywhere;
  dt {
    color: ${color.inkSoft};
  }
`;

/** A country as a shopper reads it. */
const countryIn = (country: string, language: string): string =>
  new Intl.DisplayNames(language, { type: "region", fallback: "code" }).of(country) ?? country;

type Words = (typeof catalogue)["en"];

const wordsIn = (language: string): Words =>
  Object.entries(catalogue).find(([one]) => one === language.slice(0, 2))?.[1] ?? catalogue.en;

export const meta: Route.MetaFunction = ({ loaderData, error }) => [
  { title: loaderData?.storefront ?? titleOfTrouble(error) },
  { name: "robots", content: "noindex" },
];

async function mustFind(request: Request, context: Context, token: string): Promise<ButtonSession> {
  const session = await sessionByToken(context.get(runtimeContext), token);
  if (!session) throw leadsNowhere(request);
  return session;
}

/** Where a shopper is led on to, where it goes on elsewhere. */
function onward(standing: Standing, { id, lookAddress }: ButtonSession): string | null {
  if (standing.kind === "checkout") {
    const { address, says, checkout } = standing;
    return address ?? `/pay/${checkout.token}${says ? `?says=${says}` : ""}`;
  }
  if (standing.kind !== "look" || standing.where !== "shop" || lookAddress === null) return null;
  const there = new URL(lookAddress);
  there.searchParams.set("purchase", id);
  return there.href;
}

/** Why nothing was ordered, in the shopper's words, or in the shop's where it said some. */
function overWords({ because, says, cart }: ButtonSession, words: Words): string {
  const { words: told } = embedWords(cart.language);
  switch (because) {
    case "too-late":
      return words.late;
    case "not-as-told":
      return words.notAsTold;
    case "elsewhere":
      return words.elsewhere;
    case "sold-out":
      return says ?? told.soldOut;
    case "not-served":
      return says ?? told.notServed;
    case "changed":
      return says ?? told.changed;
    case "not-offered":
      return told.notOffered;
    default:
      return words.left;
  }
}

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const before = await mustFind(request, context, params.token);
  const standing = await goOn(rt, before, false);
  const session = await mustFind(request, context, params.token);
  const elsewhere = onward(standing, session);
  if (elsewhere) throw redirect(elsewhere);
  const { storefrontId, mode, cart, priced, delivery, place, contact, charge } = session;
  const { language, country } = cart;
  const [storefront, look, offer] = await Promise.all([
    storefrontOf(rt, storefrontId),
    lookFor(rt, storefrontId, mode),
    offerOf(rt, storefrontId, session.offerId),
  ]);
  const choice = priced?.deliveries.find(({ id }) => id === delivery);
  const words = wordsIn(language);
  return {
    ...{ storefront: storefront?.name ?? "", mode, words, checkout: wordsFor(language) },
    look: lookIn(look, language),
    wallet: offer ? (methodOf(offer.versions[mode].profile, offer.offer.methodId)?.name ?? "") : "",
    kind: standing.kind,
    lacksYes: new URL(request.url).searchParams.get("says") === "terms",
    address: standing.kind === "open" ? standing.address : null,
    over: overWords(session, words),
    returnAddress: session.returnAddress,
    language,
    order:
      choice && priced && place
        ? {
            ...{ reference: "", currency: cart.total.currency, lines: priced.lines, language, country },
            ...{ shipping: choice.shipping, tax: choice.tax, taxIncluded: priced.taxIncluded },
            ...{ total: choice.total, charge, returnAddress: session.returnAddress },
          }
        : null,
    goes: {
      by: choice?.name ?? "",
      to: [
        ...(place?.lines ?? []),
        `${place?.postcode ?? ""} ${place?.city ?? ""}`.trim(),
        place ? countryIn(place.country, language) : "",
      ].filter(Boolean),
      contact: [contact?.name, contact?.email, contact?.phone].filter((one) => one !== undefined),
    },
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const rt = context.get(runtimeContext);
  const session = await mustFind(request, context, params.token);
  const form = await formOf(request);
  const press = form.get("press");
  const here = `/buy/${params.token}`;
  if (press === "back") {
    if (session.state === "open" || session.state === "agreed") await endSession(rt, session, "left");
    return redirect(session.returnAddress);
  }
  if (press !== "order") return redirect(here);
  const look = lookIn(await lookFor(rt, session.storefrontId, session.mode), session.cart.language);
  if (look.terms?.required && form.get("agreed") !== "yes") return redirect(`${here}?says=terms`);
  const standing = await goOn(rt, session, true);
  if (look.terms?.required && standing.kind === "checkout")
    await agreeTo(rt, standing.checkout, look.terms.link);
  return redirect(onward(standing, session) ?? here);
}

/** What a shopper agreed to at a wallet: to be looked at once more, or what became of it. */
export default function Buy({ loaderData }: Route.ComponentProps) {
  const { kind, words, checkout, wallet, order, goes, language, returnAddress, address } = loaderData;
  const { terms } = loaderData.look;
  const { lacksYes } = loaderData;
  useLive(kind === "ordering", 1_500);
  const named = (text: string) => text.replace("{name}", wallet);
  const told: Record<typeof kind, [string, string]> = {
    open: [words.open, named(words.openSays)],
    look: [words.title, ""],
    silent: [words.silent, words.silentSays],
    ordering: [words.ordering, words.orderingSays],
    checkout: ["", ""],
    over: [words.over, loaderData.over],
  };
  const [title, says] = told[kind];
  const view = {
    ...{ storefront: loaderData.storefront, look: loaderData.look, mode: loaderData.mode },
    order: order ?? { ...nothing, language, returnAddress },
  };
  return (
    <ShopperPage view={view} words={checkout}>
      {order && (kind === "look" || kind === "silent") && (
        <OrderReceipt order={order} words={checkout} level={2} />
      )}
      <Card role={kind === "look" ? undefined : "status"}>
        <Stack>
          <h1>{title}</h1>
          {says && <p>{says}</p>}
          {kind === "look" && (
            <Facts>
              <dt>{words.to}</dt>
              <dd>
                {goes.contact[0] && <bdi>{goes.contact[0]}, </bdi>}
                <bdi>{goes.to.join(", ")}</bdi>
              </dd>
              <dt>{words.by}</dt>
              <dd>{goes.by}</dd>
              <dt>{words.contact}</dt>
              <dd>
                <bdi>{goes.contact.slice(1).join(", ")}</bdi>
              </dd>
            </Facts>
          )}
          {kind !== "ordering" && (
            <Form method="post" replace>
              {terms?.required && (kind === "look" || kind === "silent") && (
                <div>
                  <Check>
                    <input type="checkbox" name="agreed" value="yes" aria-invalid={lacksYes || undefined} />
                    <a href={terms.link} target="_blank" rel="noreferrer">
                      {checkout.agree}
                    </a>
                  </Check>
                  <Wrong>{lacksYes ? checkout.pleaseAgree : null}</Wrong>
                </div>
              )}
              <Row>
                {(kind === "look" || kind === "silent") && (
                  <Button $kind="main" name="press" value="order">
                    {kind === "look" ? words.order : words.again}
                  </Button>
                )}
                {kind === "open" && address && (
                  <Button as="a" href={address} $kind="main">
                    {named(words.goOn)}
                  </Button>
                )}
                <Button name="press" value="back">
                  {words.back}
                </Button>
              </Row>
            </Form>
          )}
        </Stack>
      </Card>
    </ShopperPage>
  );
}

export const ErrorBoundary = ShopperTrouble;

/** An order of which nothing is known yet. */
const nothing = {
  ...{ reference: "", currency: "EUR", lines: [], shipping: 0, tax: 0, taxIncluded: true, total: 0 },
  country: "",
};
