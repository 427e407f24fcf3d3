import type { ReactElement } from "react";
import { renderToStaticMarkup } from "react-dom/server";
import { createRoutesStub } from "react-router";
import { expect, it } from "vitest";
import { lookIn, usualLook } from "#core/looks/look";
import type { PlacedScene } from "#core/ways/offline/placed";
import { scanCode } from "#server/checkouts/scan-code";
import { CheckoutFoot, CheckoutHead, OfferChoices, OrderReceipt } from "./checkout-view";
import { Placed } from "./placed";
import { Device, Onward, PaidScene, Scan, Waiting } from "./scenes";
import type { CheckoutWords } from "./words";
import { wordsFor } from "./words.server";

// A language that nobody speaks: each of its words stands in brackets, so that whatever a page says outside of them is
// written into the page itself.

const bracketed = <T,>(words: T): T =>
  typeof words === "string"
    ? (`⟦${words}⟧` as T)
    : (Object.fromEntries(Object.entries(words as object).map(([key, one]) => [key, bracketed(one)])) as T);
const words: CheckoutWords = bracketed(wordsFor("en"));

/** What the page is told by the shop stands in braces. */
const told = (text: string) => `{${text}}`;
const order = {
  ...{ reference: told("LW-1"), currency: "EUR", shipping: 490, tax: 701, taxIncluded: false, total: 5_091 },
  ...{ payNow: 1_000, country: "DE", language: "de", returnAddress: "https://shop.example/" },
  lines: [{ name: told("Kite"), quantity: 2, unit: 2_195, total: 4_390 }],
};
const look = lookIn(
  {
    ...usualLook,
    terms: { how: "required", links: { de: "https://shop.example/agb" } },
    privacy: { de: "https://shop.example/privacy" },
    support: { email: "help@shop.example", phone: "+49 1", page: "https://shop.example/help" },
  },
  "de",
);
const transfer: PlacedScene = {
  ...{ name: "placed", kind: "bank-transfer", instructions: null, due: 1_795_000_000_000 },
  left: { amount: 5_091, currency: "EUR" },
  phone: "+49",
  slip: { asks: "file", says: null, state: "refused", open: true },
  transfer: {
    ...{ holder: told("Loft"), iban: told("DE49"), bic: told("BIC"), bank: told("Bank") },
    ...{ reference: told("RF"), code: scanCode("x") },
  },
};

/** Texts and spoken labels of what is drawn, without what is in brackets, braces, and the addresses that were told. */
function outside(element: ReactElement): string {
  const Stub = createRoutesStub([{ path: "/", Component: () => element }]);
  const drawn = renderToStaticMarkup(<Stub initialEntries={["/"]} />);
  const labels = [...drawn.matchAll(/(?:aria-label|alt|title|placeholder)="([^"]*)"/g)].map(
    ([, label]) => label,
  );
  const texts = drawn.replace(/<(style|script)[^>]*>.*?<\/\1>/gs, "").replace(/<[^>]+>/g, " ");
  return [texts, ...labels]
    .join(" ")
    .replace(/⟦.*?⟧/gs, " ")
    .replace(/\{[^}]*\}/g, " ")
    .replace(/&[#\w]+;/g, " ")
    .replace(/help@shop\.example|IBAN|BIC|November|EUR/g, " ")
    .replace(/[^\p{L}]+/gu, " ")
    .trim();
}

it.each<[string, ReactElement]>([
  [
    "who sells",
    <CheckoutHead
      key="a"
      storefront={told("Shop")}
      reference={told("1")}
      mode="test"
      logo={null}
      words={words}
    />,
  ],
  ["the order, a part of it", <OrderReceipt key="b" order={order} words={words} />],
  [
    "the choice, with more ways",
    <OfferChoices
      key="c"
      offers={["a", "b", "c", "d"].map((id, i) => ({
        ...{ id, label: told(id), hint: told("hint"), help: told("help") },
        ...{ charge: 490 * (i - 1), sign: { icon: "card" as const } },
      }))}
      order={order}
      chosen="a"
      most={2}
      words={words}
    />,
  ],
  ["the foot", <CheckoutFoot key="d" look={look} words={words} />],
  ["waiting", <Waiting key="e" words={words} own={told("own")} />],
  [
    "paid",
    <PaidScene key="f" words={words} own={null} instrument={told("4242")} back="https://shop.example" />,
  ],
  ["at the bank", <Onward key="g" scene={{ address: "/x", handOver: null, at: "bank" }} words={words} />],
  [
    "at the service",
    <Onward key="h" scene={{ address: "/x", handOver: { a: "b" }, at: "service" }} words={words} />,
  ],
  ["on the device", <Device key="i" address="/x" words={words} />],
  ["a code", <Scan key="j" code={scanCode("https://x.example")} until={0} words={words} />],
  ["a transfer", <Placed key="k" scene={transfer} order={order} says="slip-too-large" words={words} />],
  [
    "what was sent in",
    <Placed
      key="l"
      scene={{
        ...{ ...transfer, transfer: null },
        slip: { asks: "text", says: told("code"), state: "open", open: true },
      }}
      order={order}
      says="slip-unreadable"
      words={words}
    />,
  ],
])("says nothing of its own in any language: %s", (_, element) => {
  expect(outside(element)).toBe("");
});

it("finds what is written into a page", () => {
  expect(outside(<p aria-label="Label">Text {words.paid}</p>)).toBe("Text Label");
});
