import { setTimeout as wait } from "node:timers/promises";
import type { Money } from "#core/money/money";
import type { Plan } from "#core/profiles/answers";
import type { Checkout } from "../database/rows";
import { call, openLine } from "../gateway/gateway";
import { askedOf } from "#core/orders/asked";
import type { Shelf } from "../memory";
import type { Runtime } from "../runtime";
import type { OfferWithRevisions } from "../storefronts/now";

/** A shopper is not kept waiting for longer than this, and a quote is good for so long; milliseconds. */
const PATIENCE = 1_500;
const GOOD_FOR = 600_000;

/** What paying an order in parts comes to, as its provider quotes it. */
export interface Quoted {
  payments: number;
  each: Money;
  total: Money;
  rate: number | null;
}

const shelf: Shelf<Quoted[]> = { name: "quotes" };

/** The plans that an offer's provider quotes for a checkout's order with what choosing it adds; none where it quotes none, or does not answer in time. */
export async function quotesFor(
  rt: Runtime,
  { id: checkoutId, mode, order }: Checkout,
  { offer, connection, versions, through }: OfferWithRevisions,
  charge: number,
): Promise<Quoted[]> {
  if (!versions[mode].profile.operations.quote || through.troubled[mode] !== null) return [];
  const { currency, country, language } = order;
  const amount = askedOf(order) + charge;
  const key = [connection.id, mode, offer.methodId, amount, currency, country].join(" ");
  const plans = rt.memory.recall(shelf, key, Math.floor(rt.now() / GOOD_FOR), async () => {
    const line = await openLine(rt, { connectionId: connection.id, mode });
    const input = { amount, currency, methodId: offer.methodId, country, language };
    const answer = line && (await call(rt, line, "quote", input, { checkoutId }));
    // What was not answered is asked again by whoever comes next; a refusal stands.
    if (answer?.kind === "unanswered") throw new Error("no quote");
    return answer?.kind === "answered" && answer.value.currency === currency
      ? answer.value.plans.map((plan) => quoted(plan, currency))
      : [];
  });
  const late = wait<Quoted[]>(PATIENCE, [], { ref: false });
  return Promise.race([plans.catch(() => []), late]);
}

const quoted = ({ payments, amount, total, rate }: Plan, currency: string): Quoted => ({
  payments,
  each: { amount, currency },
  total: { amount: total, currency },
  rate: rate ?? null,
});
