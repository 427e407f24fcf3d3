import type { Request } from "express";
import * as yup from "yup";
import { isNoticePlace, noticePlaces } from "#core/offers/notices";
import { cartOf } from "../checkouts/checkouts";
import { noticeMarkup, noticesFor } from "../embed/notices";
import { type Pass, PASS_LIVES, passText } from "../embed/pass";
import type { Runtime } from "../runtime";
import { type Call, read } from "./call";
import { orderFrom } from "./checkouts";

/** A shop makes its page meanwhile: whoever is not quicker than this, in milliseconds, is left out of it. */
const PATIENCE = 400;

/** Whether browsers send a text as the origin of a page: a secure one, or one of this machine. */
function isOrigin(text: string): boolean {
  if (!URL.canParse(text)) return false;
  const { origin, protocol, hostname } = new URL(text);
  const here = hostname === "localhost" || hostname === "127.0.0.1";
  return text === origin && (protocol === "https:" || (protocol === "http:" && here));
}

const body = yup.object({
  place: yup
    .string()
    .oneOf([...noticePlaces])
    .required(),
  origin: yup
    .string()
    .strict()
    .max(200)
    .required()
    .test("origin", 'must be an origin such as "https://shop.example"', (value) => isOrigin(value ?? "")),
});

/** What a page of the shop can show of a basket: a question, which changes nothing. */
export async function postEmbeds(rt: Runtime, request: Request, { caller, now, storefront }: Call) {
  const { place, origin } = read(body, request.body);
  if (!isNoticePlace(place)) throw new Error("read above");
  // A basket is an order that has no number yet, and nowhere to come back to.
  const given = request.body as Record<string, unknown>;
  const basket = {
    ...given,
    reference: "basket",
    returnAddress: origin,
    email: undefined,
    payNow: undefined,
  };
  const cart = cartOf(orderFrom(basket, storefront), { at: rt.now() });
  const { at: _now, ...asked } = cart.asked;
  const until = rt.now() + PASS_LIVES;
  const pass: Pass = {
    ...{ storefrontId: storefront.id, mode: caller.mode, origin, place, until },
    // Of many lines it is told once what kinds there are, so that what a page carries stays short.
    cart: { ...cart, asked: { ...asked, kinds: [...new Set(asked.kinds)] } },
  };
  const token = passText(rt, pass);
  const notices = await noticesFor(rt, now, { mode: caller.mode, place, cart }, PATIENCE);
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
    },
  };
}
