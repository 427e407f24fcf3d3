import { decimalText } from "../money/money";
import { type Order, readOrder } from "../orders/order";
import type { SessionAddress, SessionReading } from "../profiles/answers";

/** One way in which a shop would deliver, and what all of it would come to then; minor units. */
export interface DeliveryChoice {
  id: string;
  name: string;
  shipping: number;
  tax: number;
  total: number;
}

/** What a shop says a basket comes to at an address. */
export interface Priced {
  lines: Order["lines"];
  taxIncluded: boolean;
  deliveries: DeliveryChoice[];
}

/** Why a shop does not sell: it does not deliver there, it has none left, or the basket is another by now. */
export const refusals = ["not-served", "sold-out", "changed"] as const;
export type Refusal = (typeof refusals)[number];

/** What a shop answered: what it would come to, that it does not sell, or something that cannot be read. */
export type Answered<T> =
  | { kind: "given"; value: T }
  | { kind: "refused"; because: Refusal; says: string | null }
  | { kind: "unreadable"; at: string };

const MOST_DELIVERIES = 20;
const LONGEST_SAYING = 300;

type Raw = Record<string, unknown>;
const isObject = (value: unknown): value is Raw =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** Reads a refusal; null where the answer is none. */
function refusalIn(body: unknown): Extract<Answered<never>, { kind: "refused" }> | null {
  if (!isObject(body) || body.refused === undefined || body.refused === null) return null;
  const because = refusals.find((one) => one === body.refused) ?? "changed";
  const says = typeof body.says === "string" && body.says.trim() !== "" ? body.says.trim() : null;
  return { kind: "refused", because, says: says?.slice(0, LONGEST_SAYING) ?? null };
}

/** What a question to the shop is about, beside the basket itself. */
export interface Asking {
  currency: string;
  language: string;
  group: string;
}

/**
 * Reads what a shop answers when it is asked what a basket comes to at an address: its lines, and every delivery that it
 * offers, whose sums have to add up.
 */
export function readPriced(body: unknown, asking: Asking, address: SessionAddress): Answered<Priced> {
  const refused = refusalIn(body);
  if (refused) return refused;
  const { lines, taxIncluded = true, deliveries } = isObject(body) ? body : {};
  if (!Array.isArray(deliveries) || deliveries.length === 0 || deliveries.length > MOST_DELIVERIES)
    return { kind: "unreadable", at: "/deliveries" };
  const choices: DeliveryChoice[] = [];
  let read: Order["lines"] = [];
  for (const [i, one] of deliveries.entries()) {
    const { id, name, shipping, tax, total } = isObject(one) ? one : {};
    const named = typeof id === "string" && /^[\x21-\x7e]{1,64}$/.test(id) && typeof name === "string";
    if (!named || name.trim() === "" || name.length > 100 || choices.some((known) => known.id === id))
      return { kind: "unreadable", at: `/deliveries/${i}` };
    const reading = readOrder({
      ...{ reference: "basket", returnAddress: "https://basket.invalid/", lines, taxIncluded },
      ...{ shipping, tax, total, ...asking, country: address.country },
    });
    if (!reading.ok)
      return { kind: "unreadable", at: `/deliveries/${i}${reading.problems[0]?.pointer ?? ""}` };
    const { order } = reading;
    read = order.lines;
    choices.push({ id, name: name.trim(), shipping: order.shipping, tax: order.tax, total: order.total });
  }
  return { kind: "given", value: { lines: read, taxIncluded: taxIncluded !== false, deliveries: choices } };
}

/** Reads the order that a shop has made. Its number is the shop's; who wants more of it reads it as any other order. */
export function readMade(body: unknown): Answered<Raw> {
  const refused = refusalIn(body);
  if (refused) return refused;
  return isObject(body) && typeof body.reference === "string"
    ? { kind: "given", value: body }
    : { kind: "unreadable", at: "/reference" };
}

/** The delivery that is meant: the one that was chosen, where it is still offered, else the first. */
export const chosenOf = ({ deliveries }: Priced, chosen: string | null | undefined): DeliveryChoice | null =>
  deliveries.find(({ id }) => id === chosen) ?? deliveries[0] ?? null;

/** Whether two addresses are the same place for delivery and tax. */
export const isSamePlace = (one: SessionAddress, other: SessionAddress): boolean =>
  (["country", "region", "postcode", "city"] as const).every(
    (key) => (one[key] ?? "") === (other[key] ?? ""),
  );

/** What a wallet was told last of a purchase. */
export interface ToldLast {
  total: number;
  currency: string;
  priced: Priced | null;
  place: SessionAddress | null;
  delivery: string | null;
}

/** Whether a shopper agreed to the sum, the place and the delivery that the wallet was told last. */
export const isAsTold = (told: ToldLast, { amount, currency, address, delivery }: SessionReading): boolean =>
  amount === told.total &&
  currency === told.currency &&
  told.priced !== null &&
  told.place !== null &&
  address !== undefined &&
  isSamePlace(address, told.place) &&
  (delivery === undefined || delivery === told.delivery);

/** A sum as a shop is told it. */
export const asText = (amount: number, currency: string): string => decimalText({ amount, currency });
