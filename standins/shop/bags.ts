import { createHash } from "node:crypto";
import { Webhook } from "standardwebhooks";
import { type BranchId, branchOf, decimal, priceIn, shopWords, type Language } from "./branches";
import { type Bag, type Counter, linesOf, type Mode } from "./counter";
import { SHIPPING, taxIn } from "./goods";

// What is bought by a button: the payment service asks what it comes to and has the order made, and the shop knows by the bag
// what it is about.

const MOST_BAGS = 2_000;

/** Remembers what a button was shown for. One that was ordered stays as it was ordered. */
export function keepBag(counter: Counter, id: string, bag: Bag): void {
  const bags = (counter.state.bags ??= {});
  if (bags[id]?.order !== undefined) return;
  bags[id] = bag;
  for (const old of Object.keys(bags).slice(0, -MOST_BAGS)) delete bags[old];
  counter.shelf.changed();
}

/** The name of a bag: of one shopper's basket as it is, so that two windows of it are one. */
export const bagOf = (shopper: string, basket: Record<string, number>): string =>
  `bag-${createHash("sha256")
    .update(`${shopper} ${JSON.stringify(basket)}`)
    .digest("hex")
    .slice(0, 24)}`;

interface Address {
  country: string;
  postcode?: string;
  city?: string;
  lines?: string[];
}
interface Question {
  type: string;
  data: {
    basket: string;
    address?: Address;
    contact?: { name?: string; email?: string };
    delivery?: string;
    total?: string;
  };
}

/** What is delivered how, and for how much, in minor units; nothing where the shop does not deliver. */
function deliveriesTo(branch: BranchId, country: string, language: Language) {
  const { countries, currency } = branchOf(branch);
  if (!countries.includes(country)) return [];
  const words = shopWords[language];
  const home = country === countries[0];
  const parcel = priceIn(home ? SHIPPING : SHIPPING * 2, currency);
  return [
    { id: "parcel", name: words.parcel, shipping: parcel },
    ...(home ? [{ id: "pick-up", name: words["pick-up"], shipping: 0 }] : []),
  ];
}

/** Answers a question of the payment service; null where its signature does not fit. */
export async function answer(
  counter: Counter,
  { mode, branch }: { mode: Mode; branch: BranchId },
  headers: Record<string, string>,
  body: string,
): Promise<object | null> {
  let question: Question;
  try {
    question = new Webhook(counter.access(branch).secrets[mode]).verify(body, headers) as Question;
  } catch {
    return null;
  }
  const { soldOut = [], slow = 0 } = counter.state.manner ?? {};
  if (slow > 0) await new Promise((resolve) => setTimeout(resolve, slow));
  const { type, data } = question;
  const bag = counter.state.bags?.[data.basket];
  if (!bag || bag.mode !== mode || bag.branch !== branch) return { refused: "changed" };
  const words = shopWords[bag.language];
  if (type === "button.closed") {
    const made = bag.order === undefined ? undefined : counter.orderOf(bag.order);
    if (made?.state === "unpaid") Object.assign(made, { state: "cancelled", closed: true });
    counter.shelf.changed();
    return {};
  }
  const { currency } = branchOf(branch);
  const lines = linesOf(bag.basket, currency, bag.language);
  const known = bag.order === undefined ? undefined : counter.orderOf(bag.order);
  if (known) return type === "button.order" ? counter.orderAsTold(known) : { refused: "changed" };
  if (lines.some(({ id }) => soldOut.includes(id))) return { refused: "sold-out", says: words.soldOut };
  const country = data.address?.country ?? "";
  const deliveries = deliveriesTo(branch, country, bag.language);
  if (deliveries.length === 0) return { refused: "not-served", says: words.notServed };
  const goods = lines.reduce((sum, line) => sum + line.cents * line.quantity, 0);
  const written = (minor: number) => decimal(minor, currency);
  if (type === "button.delivery")
    return {
      lines: lines.map(({ name, quantity, cents, kind }) => ({
        ...{ name, quantity, unit: written(cents), total: written(cents * quantity) },
        ...(kind && { kind }),
      })),
      deliveries: deliveries.map(({ id, name, shipping }) => ({
        ...{ id, name, shipping: written(shipping) },
        ...{ tax: written(taxIn(goods + shipping)), total: written(goods + shipping) },
      })),
    };
  const delivery = deliveries.find(({ id }) => id === data.delivery);
  if (!delivery || written(goods + delivery.shipping) !== data.total) return { refused: "changed" };
  const order = counter.orderOfBag(lines, delivery.shipping, {
    ...{ email: data.contact?.email ?? "", country, language: bag.language, branch, mode },
    ...(delivery.id === "pick-up" ? { delivery: "pick-up" as const } : { delivery: "parcel" as const }),
    ...(data.address?.postcode && { postcode: data.address.postcode }),
    ...(bag.group && { group: bag.group }),
    ...(bag.shopper && { shopper: bag.shopper }),
    bag: data.basket,
  });
  bag.order = order.no;
  counter.shelf.changed();
  return counter.orderAsTold(order);
}
