import type { OfferDocument } from "#core/offers/offer";
import type { Runtime } from "#server/runtime";
import { type Account, offerMethod } from "./accounts";
import { haffgroschen, haffgroschenTerms, offerCash, offerOffline, offerThereToo } from "./offline";
import { cardDocument } from "./play";
import { kiteClub } from "./subscribers";

// What the four storefronts of the furnished demo offer.

export const DE = "luvwinkel-de";
export const UK = "luvwinkel-uk";
export const JP = "luvwinkel-jp";
export const DEALERS = "luvwinkel-dealers";

const say = (label: string, hint: string, languages: readonly string[]): OfferDocument["wording"] =>
  Object.fromEntries(languages.map((language) => [language, { label, hint }]));
const english: Partial<OfferDocument> = {
  stages: {
    pending: "Reserved",
    authorised: "Reserved",
    captured: "Paid",
    "partly-captured": "Paid",
    voided: "Refused",
    declined: "Refused",
    failed: "Refused",
    cancelled: "Refused",
    expired: "Refused",
    refunded: "Refunded",
    "partly-refunded": "Under question",
  },
};
const { stages, statement } = cardDocument;

/** The accounts that move the money, by what they are used for. */
type Accounts = Record<
  "karvello" | "device" | "wallet" | "instalments" | "outlet" | "code" | "handel",
  Account
>;

/** Offers everything on every storefront, and says under which ids. */
export async function offerAll(
  rt: Runtime,
  { karvello, device, wallet, instalments, outlet, code, handel }: Accounts,
) {
  const offers = {
    card: await offerMethod(rt, DE, karvello.connectionId, "card", {
      ...cardDocument,
      keeps: "storefront",
      repeats: kiteClub,
      holdBack: { from: { EUR: 70_000 }, countries: [] },
    }),
    thumb: await offerMethod(rt, DE, device.connectionId, "thumb", {
      wording: say("Thumbra", "", ["de", "en"]),
      button: {
        ...{
          places: ["product", "basket", "small-basket", "checkout"],
          label: "pay",
          shape: "round",
          size: "usual",
          colour: "olive",
        },
        lastLook: "none",
      },
      stages,
      statement,
    }),
    wallet: await offerMethod(rt, DE, wallet.connectionId, "wallet", {
      wording: say("Pennywhistle", "", ["de", "en"]),
      button: {
        ...{
          places: ["product", "basket", "checkout"],
          label: "buy",
          shape: "soft",
          size: "usual",
          colour: "deep",
        },
        lastLook: "here",
      },
      stages,
      statement,
    }),
    plan: await offerMethod(rt, DE, instalments.connectionId, "plan", {
      wording: {
        de: { label: "Ratenkauf", hint: "In drei oder zwölf Monaten" },
        en: { label: "Instalments", hint: "Over three or twelve months" },
      },
      notices: ["home", "product", "basket", "checkout"],
      stages,
      statement,
    }),
    page: await offerMethod(rt, UK, outlet.connectionId, "card", {
      ...english,
      wording: say("Card", "Norda, Celesta and Umbra", ["en"]),
      capture: "later",
      statement: "LUVWINKEL KITES",
      stages: { ...english.stages },
    }),
    code: await offerMethod(rt, JP, code.connectionId, "scan", {
      ...english,
      wording: {
        ja: { label: "クイッパ", hint: "コードを読み取って支払う" },
        en: { label: "Quippa", hint: "Scan a code with your phone" },
      },
      statement: "LUVWINKEL",
    }),
    dealers: await offerMethod(rt, DEALERS, handel.connectionId, "card", {
      ...english,
      wording: say("Karte", "Für Händler", ["de"]),
      statement: "LUVWINKEL HANDEL",
    }),
  };

  const transfer = await offerOffline(rt, DE, "bank-transfer", { stages });
  await offerOffline(rt, DE, "own", { ...haffgroschen, stages }, haffgroschenTerms);
  await offerCash(rt, DE, stages);
  await offerThereToo(rt, transfer, DEALERS, {
    stages: english.stages,
    limits: { EUR: { least: 10_000, greatest: null } },
  });
  await offerOffline(rt, DEALERS, "invoice", { stages: english.stages });
  return { ...offers, transfer };
}
