import { useCallback, useEffect, useRef, useState } from "react";
import { Form, useNavigation, useSubmit } from "react-router";
import { styled } from "styled-components";
import { moneyText } from "#core/money/money";
import { askedOf } from "#core/orders/asked";
import { shopperLocale } from "#core/orders/view";
import type { Again } from "#server/checkouts/view";
import { Button, Check, Wrong } from "../parts/form";
import { Note } from "../parts/marks";
import { Small, Stack } from "../parts/sheet";
import { CardFrame } from "./card-frame";
import { Card, OfferChoices } from "./checkout-view";
import type { Fill } from "./instruments";
import { TurnBack } from "./scenes";
import { keepWords } from "./keep-words";
import type { CheckoutWords } from "./words";
import type { Route } from "./+types/pay";

export type View = Route.ComponentProps["loaderData"];
export type Filling = React.RefObject<((fill: Fill) => void) | null>;

const PlanList = styled.ul`
  list-style: none;
  padding: 0;
  margin: 0.3rem 0 0;
  display: grid;
  gap: 0.2rem;
  font-variant-numeric: tabular-nums;
`;

/** The ways of paying that are offered, and what paying with the chosen one takes. */
export function Choose({
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
              <strong>{scene.pays === "frame" ? words.otherCard : words.otherNew}</strong>
            </Stack>
          </Form>
        )}
        {!paying && scene.mayKeep && scene.pays === "frame" && <Keep pays={scene.pays} words={words} />}
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
            keep={scene.mayKeep && <Keep pays={scene.pays} words={words} />}
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

/** Whether what is paid with is kept. Beside a frame nothing is sent by a form: there it is looked up as it is paid. */
function Keep({
  pays,
  words,
}: {
  pays: Extract<View["scene"], { name: "choose" }>["pays"];
  words: CheckoutWords;
}) {
  const { label, says } = keepWords(words, pays);
  return (
    <div>
      <Check>
        <input type="checkbox" id="keep" name="keep" value="yes" />
        {label}
      </Check>
      <Small>{says}</Small>
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
  keep,
  press,
  note,
}: {
  offer: string;
  /** What the shopper is shown; another total is not asked for without a word. */
  total: string;
  /** Whether the shopper has to agree to the terms with it. */
  agrees: boolean;
  /** Where they can have it kept. */
  keep: React.ReactNode;
  press: string;
  note: string;
}) {
  return (
    <Form method="post" replace id={agrees ? AGREES : undefined}>
      <input type="hidden" name="offer" value={offer} />
      <input type="hidden" name="total" value={total} />
      <Stack $gap={0.5}>
        {keep}
        <Button $kind="main" name="press" value="pay">
          {press}
        </Button>
        <Small>{note}</Small>
      </Stack>
    </Form>
  );
}
