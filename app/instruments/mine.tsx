import { Form, redirect } from "react-router";
import { styled } from "styled-components";
import { dayText } from "#core/orders/view";
import { lookIn } from "#core/looks/look";
import { callIt, choose, forget, keptOf, LONGEST_CALLED } from "#server/instruments/instruments";
import { readMine } from "#server/instruments/mine";
import { lookFor } from "#server/looks/looks";
import { storefrontOf } from "#server/storefronts/storefronts";
import { Card, CheckoutFoot, CheckoutPage, Column } from "../checkouts/checkout-view";
import { isOverNow } from "../checkouts/missing.server";
import { ScriptFont } from "../checkouts/script-font";
import { ShopperTrouble, titleOfTrouble } from "../checkouts/shopper-trouble";
import { directionOf } from "../checkouts/words";
import { wordsFor } from "../checkouts/words.server";
import { type Context, runtimeContext } from "../context";
import { formOf } from "../form-of";
import { lightOf } from "../looks/look-style";
import { Button, Input } from "../parts/form";
import { Row, Small, Stack } from "../parts/sheet";
import catalogue from "../words/mine.json";
import { Subscribed } from "./subscribed";
import { actForShopper, chargeToOther, isShoppersAct, newWayOf, subscribedTo } from "./subscribed.server";
import type { Route } from "./+types/mine";

export const meta: Route.MetaFunction = ({ loaderData, error }) => [
  { title: loaderData?.words.title ?? titleOfTrouble(error) },
  { name: "robots", content: "noindex" },
];

const wordsIn = (language: string): (typeof catalogue)["en"] =>
  Object.entries(catalogue).find(([one]) => one === language.slice(0, 2))?.[1] ?? catalogue.en;

/** Whose page it is. An address that is over says so, in the language that the browser asks for. */
function mustRead(context: Context, token: string, request: Request) {
  const rt = context.get(runtimeContext);
  const mine = readMine(rt, token);
  if (!mine) throw isOverNow(request);
  return { rt, mine };
}

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const { rt, mine } = mustRead(context, params.token, request);
  const { storefrontId, mode, language, returnAddress } = mine;
  const [storefront, look, kept, subscribed] = await Promise.all([
    storefrontOf(rt, storefrontId),
    lookFor(rt, storefrontId, mode),
    keptOf(rt, mine),
    subscribedTo(rt, mine),
  ]);
  return {
    subscribed,
    ...{ language, returnAddress, words: wordsIn(language), checkout: wordsFor(language) },
    storefront: storefront?.name ?? "",
    mode,
    look: lookIn(look, language),
    longest: LONGEST_CALLED,
    kept: kept.map(({ id, name, called, usual, until }) => ({
      ...{ id, name, called, usual },
      until: until === null ? null : dayText(until, language),
    })),
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, mine } = mustRead(context, params.token, request);
  const form = await formOf(request);
  const act = form.get("act");
  const subscription = String(form.get("subscription") ?? "");
  if (isShoppersAct(act)) await actForShopper(rt, mine, subscription, act);
  if (form.has("new")) return redirect((await newWayOf(rt, mine, subscription)) ?? `/mine/${params.token}`);
  if (form.has("to")) await chargeToOther(rt, mine, subscription, String(form.get("to")));
  const id = String(form.get("instrument") ?? "");
  // What is gone already is as it was wanted.
  if (form.get("press") === "forget") await forget(rt, mine, id);
  if (form.get("press") === "first") await choose(rt, mine, id);
  if (form.get("press") === "call") await callIt(rt, mine, id, String(form.get("called") ?? ""));
  return redirect(`/mine/${params.token}`);
}

const Short = styled(Input)`
  width: auto;
  max-width: 14rem;
`;
const Naming = styled.details`
  > :not(summary) {
    padding-block: 0.4rem;
  }
`;

/** What a shopper has kept with a shop, and the presses that have it forgotten or shown first. */
export default function Mine({ loaderData }: Route.ComponentProps) {
  const { storefront, mode, look, language, words, checkout, kept, returnAddress } = loaderData;
  const { subscribed, longest } = loaderData;
  return (
    <CheckoutPage
      $test={mode === "test"}
      $look={look}
      as="main"
      data-theme={lightOf(look)}
      lang={language}
      dir={directionOf(language)}
    >
      <ScriptFont language={language} face={look.face} />
      <Column>
        <strong>{storefront}</strong>
        <Card>
          <Stack>
            <h1>{words.title}</h1>
            {kept.length === 0 && <p role="status">{words.none}</p>}
            {kept.map(({ id, name, called, usual, until }) => (
              <Form method="post" key={id} aria-label={name}>
                <input type="hidden" name="instrument" value={id} />
                <Stack $gap={0.4}>
                  <strong>
                    <bdi>{name}</bdi>
                  </strong>
                  <Small>
                    {[
                      ...(usual && kept.length > 1 ? [words.usual] : []),
                      ...(until ? [words.until.replace("{day}", until)] : []),
                    ].join(" – ")}
                  </Small>
                  <Naming>
                    <summary aria-label={`${words.called}: ${name}`}>{words.called}</summary>
                    <Row>
                      <Short
                        aria-label={`${words.called}: ${name}`}
                        name="called"
                        defaultValue={called}
                        maxLength={longest}
                        size={18}
                      />
                      <Button name="press" value="call" aria-label={`${words.call}: ${name}`}>
                        {words.call}
                      </Button>
                    </Row>
                  </Naming>
                  <Row>
                    {!usual && (
                      <Button name="press" value="first" aria-label={`${words.first}: ${name}`}>
                        {words.first}
                      </Button>
                    )}
                    <Button name="press" value="forget" aria-label={`${words.forget}: ${name}`}>
                      {words.forget}
                    </Button>
                  </Row>
                </Stack>
              </Form>
            ))}
            <Row>
              <Button as="a" href={returnAddress} $kind="main">
                {words.back}
              </Button>
            </Row>
          </Stack>
        </Card>
        {subscribed.length > 0 && (
          <Card>
            <Subscribed subscribed={subscribed} words={words} />
          </Card>
        )}
        <CheckoutFoot look={look} words={checkout} />
      </Column>
    </CheckoutPage>
  );
}

export const ErrorBoundary = ShopperTrouble;
