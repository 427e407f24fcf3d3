import type { Request } from "express";
import * as yup from "yup";
import { isButtonPlace } from "#core/buttons/button";
import { embedPlaces, isEmbedPlace } from "#core/buttons/places";
import { isNoticePlace } from "#core/offers/notices";
import { deviceSaid } from "#core/orders/device";
import { buttonMarkup, buttonsFor } from "../buttons/offered";
import { keepTestPage } from "../buttons/test-page";
import { cartOf } from "../checkouts/checkouts";
import { noticeMarkup, noticesFor } from "../embed/notices";
import { type Pass, PASS_LIVES, passText } from "../embed/pass";
import type { Runtime } from "../runtime";
import { type Call, read } from "./call";
import { newsAddressesOf } from "../storefronts/storefronts";
import { orderFrom } from "./checkouts";
import { fieldsRefused } from "./problem";

/** A shop makes its page meanwhile: whoever is not quicker than this, in milliseconds, is left out of it. */
const PATIENCE = 400;

/** Whether browsers send a text as the origin of a page: a secure one, or one of this machine. */
function isOrigin(text: string): boolean {
  if (!URL.canParse(text)) return false;
  const { origin, protocol, hostname } = new URL(text);
  const here = hostname === "localhost" || hostname === "127.0.0.1";
  return text === origin && (protocol === "https:" || (protocol === "http:" && here));
}

const isAddress = (text: string): boolean =>
  URL.canParse(text) && ["http:", "https:"].includes(new URL(text).protocol);
const address = () =>
  yup
    .string()
    .strict()
    .max(2_000)
    .test("address", "must be an http or https address", (value) => value === undefined || isAddress(value));

const body = yup.object({
  place: yup
    .string()
    .oneOf([...embedPlaces])
    .required(),
  // What a browser says of itself, which rules about devices go by.
  userAgent: yup.string().strict().max(1_000),
  buttons: yup
    .object({
      basket: yup
        .string()
        .strict()
        .matches(/^[\x21-\x7e]{1,64}$/, "may hold 1 to 64 printable ASCII characters without spaces")
        .required(),
      answersAt: address().required(),
      returnAddress: address().required(),
      lookAddress: address(),
    })
    .default(undefined),
  origin: yup
    .string()
    .strict()
    .max(200)
    .required()
    .test("origin", 'must be an origin such as "https://shop.example"', (value) => isOrigin(value ?? "")),
});

/** What a page of the shop can show of a basket: a question, which changes nothing. */
export async function postEmbeds(rt: Runtime, request: Request, { caller, now, storefront }: Call) {
  const { place, origin, buttons, userAgent } = read(body, request.body);
  if (!isEmbedPlace(place)) throw new Error("read above");
  if (buttons && !(await newsAddressesOf(rt, storefront.id)).some(({ mode }) => mode === caller.mode))
    throw fieldsRefused([
      {
        pointer: "/buttons",
        code: "news-address-missing",
        detail: "the shop is asked with the secret of its news: say with PUT /news-address where it listens",
      },
    ]);
  // A basket is an order that has no number yet, and nowhere to come back to.
  const given = request.body as Record<string, unknown>;
  const basket = {
    ...given,
    reference: "basket",
    returnAddress: origin,
    email: undefined,
    payNow: undefined,
  };
  const device =
    userAgent === undefined ? null : deviceSaid((name) => (name === "user-agent" ? userAgent : null));
  const cart = cartOf(orderFrom(basket, storefront), { at: rt.now(), ...(device && { device }) });
  const { at: _now, ...asked } = cart.asked;
  const until = rt.now() + PASS_LIVES;
  const pass: Pass = {
    ...{ storefrontId: storefront.id, mode: caller.mode, origin, place, until },
    // Of many lines it is told once what kinds there are, so that what a page carries stays short.
    cart: { ...cart, asked: { ...asked, kinds: [...new Set(asked.kinds)] } },
    ...(buttons && { buys: { ...buttons, lookAddress: buttons.lookAddress ?? null } }),
  };
  const token = passText(rt, pass);
  const { mode } = caller;
  const notices = isNoticePlace(place) ? await noticesFor(rt, now, { mode, place, cart }, PATIENCE) : [];
  const presses = buttons && isButtonPlace(place) ? await buttonsFor(rt, now, { mode, place, cart }) : [];
  if (buttons && presses.length > 0 && mode === "test") {
    const { basket: named, answersAt } = buttons;
    await keepTestPage(rt, { storefrontId: storefront.id, basket: named, cart: pass.cart, answersAt });
  }
  const { origin: here } = rt.settings;
  return {
    status: 200,
    body: {
      token,
      expiresAt: new Date(until).toISOString(),
      script: { address: `${here}${rt.embed.path}`, integrity: rt.embed.integrity },
      notices: notices.map((one) => ({
        ...{ offer: one.offer, lines: one.lines, more: one.more, language: one.language },
        markup: noticeMarkup(one, token),
      })),
      buttons: presses.map((one) => ({
        ...{ offer: one.offer, text: one.text, language: one.language, size: one.size },
        markup: buttonMarkup(one, token, here),
      })),
    },
  };
}
