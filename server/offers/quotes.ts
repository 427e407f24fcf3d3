import { setTimeout as wait } from "node:timers/promises";
import type { Mode } from "#core/mode";
import type { Quoted } from "#core/offers/notices";
import type { Quote } from "#core/profiles/answers";
import { call, openLine } from "../gateway/gateway";
import type { Shelf } from "../memory";
import type { Runtime } from "../runtime";
import type { OfferWithRevisions } from "../storefronts/now";

/** How long a quote holds whose provider does not say so, and one that was not answered or was refused; milliseconds. */
const GOOD_FOR = 600_000;
const AGAIN_AFTER = 60_000;

/** Of what a quote is asked: an amount in minor units, and a shopper. */
export interface QuoteFor {
  mode: Mode;
  amount: number;
  currency: string;
  country: string;
  language: string;
  /** The checkout that it is asked for, in whose exchanges it is then shown. */
  checkoutId?: string;
}

const shelf: Shelf<Quoted> = { name: "quotes" };
const NOTHING: Quoted = { plans: [], text: null };

/**
 * The plans that an offer's provider quotes; none where it quotes none, or does not answer within `patience` milliseconds.
 * A process asks once for each amount and shopper's country and language while the quote holds, however many want it.
 */
export async function quotesFor(
  rt: Runtime,
  { mode, checkoutId, ...about }: QuoteFor,
  { offer, connection, versions, through }: OfferWithRevisions,
  patience: number,
): Promise<Quoted> {
  if (!versions[mode].profile.operations.quote || through.troubled[mode] !== null) return NOTHING;
  const { amount, currency, country, language } = about;
  const key = [connection.id, mode, offer.methodId, amount, currency, country, language].join(" ");
  const quoted = rt.memory.recallUntil(shelf, key, rt.now(), async () => {
    const line = await openLine(rt, { connectionId: connection.id, mode });
    const input = { ...about, methodId: offer.methodId };
    const answer = line && (await call(rt, line, "quote", input, checkoutId ? { checkoutId } : {}));
    if (answer?.kind !== "answered" || answer.value.currency !== currency)
      return { value: NOTHING, until: rt.now() + AGAIN_AFTER };
    const { goodFor } = answer.value;
    const until = rt.now() + (goodFor === undefined ? GOOD_FOR : Math.max(1, goodFor) * 1000);
    return { value: quotedFrom(answer.value), until };
  });
  const late = wait(patience, NOTHING, { ref: false });
  return Promise.race([quoted.catch(() => NOTHING), late]);
}

const quotedFrom = ({ currency, plans, text }: Quote): Quoted => ({
  plans: plans.map(({ payments, amount, total, rate, every, firstAfter }) => ({
    payments,
    each: { amount, currency },
    total: { amount: total, currency },
    rate: rate ?? null,
    every: every ?? null,
    firstAfter: firstAfter ?? null,
  })),
  text: text ?? null,
});
