import { type OfferDocument, orderNumberFor } from "../offers/offer";
import { evaluate } from "./expressions";
import { methodOf, type OperationName, type Profile, type ProfileMethod } from "./profile";
import type { Address } from "../places/address";
import { asTold, ownWordsTold } from "./telling";
import { fieldsOfCredentials, fill, scopeOf } from "./request";

/** What is known of an order and its shopper that a provider could be told. */
export const tellable = [
  "amount",
  "currency",
  "reference",
  "returnAddress",
  "token",
  "methodId",
  "capture",
  "authentication",
  "statement",
  "language",
  "country",
  "domain",
  "order.number",
  "order.lines",
  "order.shipping",
  "order.tax",
  "order.total",
  "order.email",
  "order.shipTo",
  "order.billTo",
  "order.shopper",
  "brand",
  "notes",
  "keep",
  "repeats",
] as const;
export type Tellable = (typeof tellable)[number];

/** One value that leaves the house: where it stands in the request, what it is, and what it was made of. */
export interface ToldField {
  path: string;
  value: string;
  /** Empty: the same for every order, or the account's own. */
  of: Tellable[];
}

type Sample = Record<Exclude<Tellable, `order.${string}`>, unknown> & { order: Record<string, unknown> };

const home: Address = {
  ...{ name: "Ida Möwe", lines: ["Deichweg 4"], postcode: "26721", city: "Emden", country: "DE" },
};

/** A basket to look at, in a currency. Amounts in minor units. */
const sample = (
  currency: string,
  document: OfferDocument,
  { id: methodId, needs }: Pick<ProfileMethod, "id" | "needs">,
): Sample => ({
  ...{ amount: 4_390, currency, reference: "z-01hx", returnAddress: "https://shop.example/back" },
  ...{ token: "one-time-token", methodId, capture: document.capture },
  ...{ authentication: document.authentication, statement: document.statement },
  ...{ language: "de", country: "DE", domain: "shop.example" },
  ...{ brand: undefined, notes: undefined, ...ownWordsTold(document.telling) },
  keep: document.keeps ? true : undefined,
  repeats: document.repeats ? true : undefined,
  order: {
    ...asTold(
      {
        number: orderNumberFor(document, "LW-1042"),
        lines: [{ name: "Kite", quantity: 1, unit: 3_900, total: 3_900 }],
        ...{ shipping: 490, tax: 701, taxIncluded: true, total: 4_390, payNow: 4_390 },
        email: "shopper@example.org",
        shipTo: { ...home, postcode: "26757", city: "Borkum" },
        billTo: home,
        shopper: "shopper-7",
      },
      document.telling,
      needs,
    ),
  },
});

const elsewhere: Address = {
  ...{ name: "Uwe Deich", lines: ["Kai 9"], postcode: "1011", city: "Wien", country: "AT", region: "AT-9" },
};

/** The same basket with one thing otherwise, so that what changes in the request was made of it. */
function otherwise(basket: Sample, one: Tellable): Sample {
  const { order } = basket;
  const other: Record<Tellable, () => Partial<Sample>> = {
    amount: () => ({ amount: 5_170 }),
    currency: () => ({ currency: basket.currency === "GBP" ? "EUR" : "GBP" }),
    reference: () => ({ reference: "z-other" }),
    returnAddress: () => ({ returnAddress: "https://other.example/back" }),
    token: () => ({ token: "another-token" }),
    methodId: () => ({ methodId: "another" }),
    capture: () => ({ capture: basket.capture === "later" ? "at-once" : "later" }),
    authentication: () => ({ authentication: basket.authentication === "always" ? "issuer" : "always" }),
    statement: () => ({ statement: "ANOTHER" }),
    language: () => ({ language: "fr" }),
    country: () => ({ country: "FR" }),
    domain: () => ({ domain: "other.example" }),
    brand: () => ({ brand: "Another brand" }),
    notes: () => ({ notes: { another: "note" } }),
    keep: () => ({ keep: false }),
    repeats: () => ({ repeats: false }),
    "order.number": () => ({ order: { ...order, number: "LW-7" } }),
    "order.lines": () => ({
      order: { ...order, lines: [{ name: "Line", quantity: 3, unit: 1_100, total: 3_300 }] },
    }),
    "order.shipping": () => ({ order: { ...order, shipping: 510 } }),
    "order.tax": () => ({ order: { ...order, tax: 11 } }),
    "order.total": () => ({ order: { ...order, total: 9_990 } }),
    "order.email": () => ({ order: { ...order, email: "other@example.net" } }),
    "order.shipTo": () => ({ order: { ...order, shipTo: elsewhere } }),
    "order.billTo": () => ({ order: { ...order, billTo: elsewhere } }),
    "order.shopper": () => ({ order: { ...order, shopper: "shopper-8" } }),
  };
  return { ...basket, ...other[one]() };
}

/** Every value in what is sent, by its path. */
function leavesOf(value: unknown, path = ""): [string, string][] {
  if (value === null || value === undefined) return [];
  if (typeof value !== "object") return [[path, String(value)]];
  return Object.entries(value).flatMap(([name, part]) =>
    leavesOf(part, Array.isArray(value) ? `${path}[${Number(name) + 1}]` : path ? `${path}.${name}` : name),
  );
}

/**
 * What a request tells a provider of an order, field by field. What each was made of is found by trying: the same basket
 * with one thing otherwise changes just what depends on it. Empty where the operation is none of the profile's.
 */
export async function toldBy(
  profile: Profile,
  operation: OperationName,
  { currency, document, methodId }: { currency: string; document: OfferDocument; methodId: string },
): Promise<ToldField[]> {
  const source = profile.operations[operation]?.request.body;
  if (source === undefined) return [];
  // The account's own values are never read for this: each stands for itself.
  const own = fieldsOfCredentials(profile);
  const send = async (basket: Sample) =>
    new Map(
      leavesOf(
        await evaluate(source, {
          ...scopeOf(profile, basket, { now: 1_795_000_000_000, nonce: "used-once" }),
          ...own,
        }),
      ),
    );
  const method = methodOf(profile, methodId) ?? { id: methodId };
  const basket = sample(currency, document, method);
  const sent = await send(basket);
  const of = new Map<string, Tellable[]>();
  for (const one of tellable) {
    const other = await send(otherwise(basket, one)).catch(() => null);
    if (!other) continue;
    for (const [path, value] of sent)
      if (other.get(path) !== value) of.set(path, [...(of.get(path) ?? []), one]);
  }
  return [...sent].map(([path, value]) => ({ path, value, of: of.get(path) ?? [] }));
}

/** What the address of a provider's own form tells it before anything is paid; empty where it has none. */
export function toldByFrame({ browser, ...profile }: Profile): ToldField[] {
  if (browser.kind !== "frame") return [];
  const page = { origin: "https://pay.example", language: "de" };
  const value = fill(browser.address.test, { ...fieldsOfCredentials({ browser, ...profile }), ...page });
  return [{ path: "address", value, of: browser.address.test.includes("{language}") ? ["language"] : [] }];
}

/** What a provider is told nothing of, among what is known. */
export const untold = (told: readonly ToldField[]): Tellable[] =>
  tellable.filter((one) => !told.some(({ of }) => of.includes(one)));
