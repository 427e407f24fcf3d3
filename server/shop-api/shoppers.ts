import type { Request } from "express";
import * as yup from "yup";
import { isShopperId } from "#core/instruments";
import { callIt, choose, forget, keptOf, LONGEST_CALLED, type Shopper } from "../instruments/instruments";
import { MINE_LIVES, mineText } from "../instruments/mine";
import type { Runtime } from "../runtime";
import { eraseShopper } from "../subscriptions/erase";
import { type Call, notFound, read } from "./call";

// What a shop asks about its signed-in shoppers: what they have kept for the next time, and that it be forgotten.

function shopperOf(request: Request, { caller: { storefrontId, mode } }: Call): Shopper {
  const shopper = String(request.params.shopper);
  if (!isShopperId(shopper)) throw notFound("shopper");
  return { storefrontId, mode, shopper };
}

/** A shopper of whom nothing is kept is one with an empty list: who shoppers are, the shop alone knows. */
export async function listInstruments(rt: Runtime, request: Request, call: Call) {
  const kept = await keptOf(rt, shopperOf(request, call));
  return {
    status: 200,
    body: {
      instruments: kept.map(({ id, offerId, name, until, usual, createdAt }) => ({
        ...{ instrument: id, offer: offerId, name, usual },
        until: until === null ? null : new Date(until).toISOString().slice(0, 10),
        keptAt: new Date(createdAt).toISOString(),
      })),
    },
  };
}

export async function deleteInstrument(rt: Runtime, request: Request, call: Call) {
  const whose = shopperOf(request, call);
  if (!(await forget(rt, whose, String(request.params.id)))) throw notFound("instrument");
  return listInstruments(rt, request, call);
}

export async function putUsual(rt: Runtime, request: Request, call: Call) {
  const whose = shopperOf(request, call);
  if (!(await choose(rt, whose, String(request.params.id)))) throw notFound("instrument");
  return listInstruments(rt, request, call);
}

const nameBody = yup.object({ name: yup.string().strict().max(LONGEST_CALLED).defined() });

export async function putName(rt: Runtime, request: Request, call: Call) {
  const whose = shopperOf(request, call);
  const { name } = read(nameBody, request.body);
  if (!(await callIt(rt, whose, String(request.params.id), name))) throw notFound("instrument");
  return listInstruments(rt, request, call);
}

export async function deleteShopper(rt: Runtime, request: Request, call: Call) {
  return { status: 200, body: { erased: await eraseShopper(rt, shopperOf(request, call)) } };
}

const pageBody = yup.object({
  language: yup
    .string()
    .strict()
    .max(12)
    .matches(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/, "must be a BCP 47 language tag")
    .required(),
  returnAddress: yup
    .string()
    .strict()
    .max(2000)
    .required()
    .test(
      "address",
      "must be an http or https address",
      (value = "") => URL.canParse(value) && ["http:", "https:"].includes(new URL(value).protocol),
    ),
});

/** A page on which the shopper sees what they have kept, and has it forgotten. */
export async function postShopperPage(rt: Runtime, request: Request, call: Call) {
  const whose = shopperOf(request, call);
  const { language, returnAddress } = read(pageBody, request.body);
  const until = rt.now() + MINE_LIVES;
  const token = mineText(rt, { ...whose, language, returnAddress, until });
  return {
    status: 200,
    body: {
      address: `${rt.settings.origin}/mine/${token}`,
      expiresAt: new Date(until).toISOString(),
    },
  };
}
