import type { OfferDocument } from "#core/offers/offer";
import { paragraphs } from "#core/rich-text";
import type { OfflineTerms } from "#core/ways/offline/terms";
import type { OfflineKind } from "#core/ways/offline/kinds";
import { checkoutByToken } from "#server/checkouts/checkouts";
import { chooseOther } from "#server/checkouts/leave";
import { pay } from "#server/checkouts/pay";
import { paymentOf } from "#server/payments/record";
import { assign } from "#server/offers/matrix";
import { keepBasket } from "#server/offers/baskets";
import { addOffline, putLive } from "#server/offers/offline";
import { addZone } from "#server/offers/zones";
import { saveOffer } from "#server/offers/offers";
import type { Runtime } from "#server/runtime";
import { anyOfferIn, mustStand, type StorefrontNow } from "#server/storefronts/now";
import { setMoneyTerms } from "#server/storefronts/storefronts";
import { receive } from "#server/ways/offline/money";
import { must } from "./play";
import { demoOwner } from "./scenario";

const person = demoOwner.email;
const DAY = 86_400_000;
/** The loft's account, at a bank that is not there. */
const account = {
  holder: "Luvwinkel Drachenbau",
  iban: "DE49999000000000204101",
  bic: "",
  bank: "Haffbank",
};

/** Offers a way of paying without a provider, in test and in live. */
export async function offerOffline(
  rt: Runtime,
  storefrontId: string,
  kind: OfflineKind,
  change: Partial<OfferDocument>,
  terms: Partial<OfflineTerms> = {},
): Promise<string> {
  const added = await addOffline(rt, person, storefrontId, kind);
  if (!added.ok) throw new Error("not offered");
  const now = await mustStand(rt, storefrontId);
  const one = must(anyOfferIn(now, added.id), "offer");
  const { offline, ...document } = one.working.document;
  const saved = await saveOffer(
    rt,
    person,
    now.storefront,
    one,
    { ...document, ...change, offline: { ...offline, account, ...terms } },
    one.working.number,
  );
  if (!saved.ok) throw new Error(`not saved: ${JSON.stringify(saved)}`);
  const live = await putLive(rt, person, { storefrontId, offerId: added.id });
  if (!live.ok) throw new Error(`not live: ${JSON.stringify(live)}`);
  return added.id;
}

/** Offers on another storefront what is offered already, and has it follow: only order stages and limits are its own. */
export async function offerThereToo(
  rt: Runtime,
  leaderId: string,
  storefrontId: string,
  change: Partial<OfferDocument>,
): Promise<void> {
  const { storefront } = await mustStand(rt, storefrontId);
  const groups = storefront.groups.map(({ id }) => id);
  const [done] = await assign(rt, person, [{ key: leaderId, storefrontId, groups }]);
  const now = await mustStand(rt, storefrontId);
  const one = must(
    now.inOrder.find(({ offer }) => offer.followsId === leaderId),
    done?.says?.code ?? "copy",
  );
  const { document, number } = one.working;
  const saved = await saveOffer(rt, person, now.storefront, one, { ...document, ...change }, number);
  if (!saved.ok) throw new Error(`not saved: ${JSON.stringify(saved)}`);
  const live = await putLive(rt, person, { storefrontId, offerId: one.offer.id });
  if (!live.ok) throw new Error(`not live: ${JSON.stringify(live)}`);
}

/** Cash to whoever brings the parcel: not on the islands, and not for days in the loft, which nobody delivers. */
export async function offerCash(
  rt: Runtime,
  storefrontId: string,
  stages: OfferDocument["stages"],
): Promise<void> {
  const islands = await addZone(rt, person, {
    ...{ name: "North Sea islands", countries: "", regions: "" },
    postcodes:
      "DE 25846-25849, DE 25859, DE 25863, DE 25869, DE 25938, DE 25946, DE 25980-25999, DE 26465, DE 26757",
  });
  if (!islands.ok) throw new Error("no zone");
  const { storefront } = await mustStand(rt, storefrontId);
  await setMoneyTerms(rt, person, storefrontId, { ...storefront.money, choiceFees: true });
  await offerOffline(
    rt,
    storefrontId,
    "cash-on-delivery",
    {
      stages,
      charge: { kind: "fee", share: 0, sums: { EUR: 490, GBP: 440 } },
      rules: {
        match: "all",
        rules: [
          { on: "delivery", methods: ["parcel"], is: true },
          { on: "goods", kinds: ["workshop"], share: "some", is: false },
          { on: "zone", zones: [islands.id], at: "ship", is: false },
        ],
      },
    },
    { account: null },
  );
  await keepBaskets(rt, storefront);
}

/** Shoppers whom this shop thinks of when it says who is shown what. */
async function keepBaskets(rt: Runtime, storefront: StorefrontNow["storefront"]): Promise<void> {
  const kite = {
    ...{ total: 9_390, goods: 8_900, currency: "EUR", country: "DE", group: "retail", kinds: ["kite"] },
    ...{ delivery: "parcel", weight: 1_200, returning: false, device: "phone", tries: 0 },
  };
  const all = [
    { ...kite, name: "A kite to Cologne", postcode: "50667" },
    { ...kite, name: "A kite to Sylt", postcode: "25980" },
    {
      ...kite,
      name: "A day in the loft",
      postcode: "50667",
      kinds: ["workshop"],
      delivery: "",
      weight: null,
    },
    {
      ...kite,
      name: "A storm kite to Zurich",
      country: "CH",
      postcode: "8001",
      total: 62_900,
      goods: 59_900,
    },
  ];
  for (const basket of all) {
    const kept = await keepBasket(rt, storefront, basket);
    if (!kept.ok) throw new Error(JSON.stringify(kept.problems));
  }
}

/** A voucher that the loft invented. */
export const haffgroschen: Partial<OfferDocument> = {
  sign: { icon: "gift" },
  charge: { kind: "discount", share: 200, sums: {} },
  wording: {
    de: { label: "Haffgroschen", hint: "Gutscheine aus dem Segelspeicher" },
    en: { label: "Haffgroschen", hint: "Vouchers of the sail loft" },
  },
};
export const haffgroschenTerms: Partial<OfflineTerms> = {
  account: null,
  slip: {
    asks: "text",
    says: { de: "Die Nummern Ihrer Haffgroschen", en: "The numbers of your Haffgroschen" },
  },
  instructions: {
    de: paragraphs("Bitte senden Sie Haffgroschen im Wert von {total} bis zum {due}. Bestellung: {order}."),
    en: paragraphs("Please send Haffgroschen worth {total} by {due}. Order: {order}."),
  },
};

/** Orders by transfer: some are paid, one is overdue, of one a part came. `order` opens a checkout at the shop. */
export async function tradeByTransfer(
  rt: Runtime,
  offerId: string,
  {
    order,
    setClock,
  }: { order: (basket: string) => Promise<string>; setClock: (to: number) => Promise<void> },
): Promise<void> {
  const trades: [daysAgo: number, basket: string, comes: { after: number; share: number } | null][] = [
    [24, "sturm.1", { after: 3, share: 1 }],
    [12, "moewe.2_band.1", { after: 2, share: 1 }],
    [9, "leine.2", null],
    [5, "werktag.1", { after: 2, share: 0.5 }],
    [1, "moewe.1", null],
  ];
  for (const [daysAgo, basket, comes] of trades) {
    await setClock(-daysAgo * DAY);
    const token = await order(basket);
    const placed = await pay(rt, must(await checkoutByToken(rt, token), "checkout"), offerId, "");
    if (placed.kind !== "payment") throw new Error(`not placed: ${placed.kind}`);
    if (!comes) continue;
    await setClock((comes.after - daysAgo) * DAY);
    const amount = Math.floor(placed.payment.amount * comes.share);
    const entry = { amount, on: rt.now(), note: "", once: "furnished" };
    const came = await receive(rt, person, placed.payment, entry);
    if (!came.ok) throw new Error("not received");
  }
  await setClock(0);
}

/** A shopper who placed an order by transfer, paid it by card after all, and whose bank sent the money all the same. */
export async function payTwice(
  rt: Runtime,
  offerId: string,
  {
    order,
    setClock,
    byCard,
  }: {
    order: (basket: string) => Promise<string>;
    setClock: (to: number) => Promise<void>;
    byCard: (token: string) => Promise<unknown>;
  },
): Promise<void> {
  await setClock(-3 * DAY);
  const token = await order("stab.1_leine.1");
  const checkout = must(await checkoutByToken(rt, token), "checkout");
  const placed = await pay(rt, checkout, offerId, "");
  if (placed.kind !== "payment") throw new Error(`not placed: ${placed.kind}`);
  const free = await chooseOther(rt, must(await checkoutByToken(rt, token), "checkout"));
  if (free !== "free") throw new Error("no other way can be chosen");
  await byCard(token);
  await setClock(-1.5 * DAY);
  const { amount } = placed.payment;
  const came = await receive(rt, person, must(await paymentOf(rt, placed.payment.id), "payment"), {
    ...{ amount, on: rt.now(), note: "", once: "furnished" },
  });
  if (!came.ok) throw new Error("not received");
  await setClock(0);
}
