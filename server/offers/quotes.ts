import { and, eq, gt, or } from "drizzle-orm";
import { setTimeout as wait } from "node:timers/promises";
import type { Mode } from "#core/mode";
import type { Quoted } from "#core/offers/notices";
import type { Quote } from "#core/profiles/answers";
import { guardFailed, guardNone } from "../database/guard";
import { rowsBy } from "../database/prepared";
import { quotes } from "../database/schema";
import { call, openLine } from "../gateway/gateway";
import type { Shelf } from "../memory";
import type { Runtime } from "../runtime";
import type { OfferWithRevisions } from "../storefronts/now";

/** How long a quote holds whose provider does not say so, and one that was not answered or was refused; milliseconds. */
const GOOD_FOR = 600_000;
const AGAIN_AFTER = 60_000;

/** How long whoever asks has it to themselves, and how often the others look whether it is answered; milliseconds. */
const ASKING = 30_000;
const LOOK_AGAIN = 150;

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

interface Held {
  value: Quoted;
  /** Milliseconds since the epoch. */
  until: number;
}

/**
 * The plans that an offer's provider quotes; none where it quotes none, or does not answer within `patience` milliseconds.
 * It is asked once for each amount and shopper's country and language while the quote holds, however many want it, in
 * however many processes.
 */
export async function quotesFor(
  rt: Runtime,
  { mode, checkoutId, ...about }: QuoteFor,
  { offer, connection, versions, through }: OfferWithRevisions,
  patience: number,
): Promise<Quoted> {
  if (!versions[mode].profile.operations.quote || through.troubled[mode] !== null) return NOTHING;
  const { amount, currency, country, language } = about;
  const by = versions[mode].id;
  const key = [connection.id, by, mode, offer.methodId, amount, currency, country, language].join(" ");
  const ask = async (): Promise<Held> => {
    const line = await openLine(rt, { connectionId: connection.id, mode });
    const input = { ...about, methodId: offer.methodId };
    const answer = line && (await call(rt, line, "quote", input, checkoutId ? { checkoutId } : {}));
    if (answer?.kind !== "answered" || answer.value.currency !== currency)
      return { value: NOTHING, until: rt.now() + AGAIN_AFTER };
    const { goodFor } = answer.value;
    const until = rt.now() + (goodFor === undefined ? GOOD_FOR : Math.max(1, goodFor) * 1000);
    return { value: quotedFrom(answer.value), until };
  };
  const quoted = rt.memory.recallUntil(shelf, key, rt.now(), () => askTogether(rt, key, connection.id, ask));
  const late = wait(patience, NOTHING, { ref: false });
  return Promise.race([quoted.catch(() => NOTHING), late]);
}

const kept = rowsBy(quotes, ["key"]);

/** What is held already, or is answered to whichever process asks. */
async function askTogether(
  rt: Runtime,
  key: string,
  connectionId: string,
  ask: () => Promise<Held>,
): Promise<Held> {
  for (;;) {
    const [row] = await kept(rt.db).all({ key });
    if (row?.quoted && row.until > rt.now()) return { value: row.quoted, until: row.until };
    if (row && row.askedUntil > rt.now()) await wait(LOOK_AGAIN);
    else if (await claim(rt, key, connectionId)) break;
  }
  const set = (held: Partial<typeof quotes.$inferInsert>) =>
    rt.db.write([
      rt.db.orm
        .update(quotes)
        .set({ ...held, askedUntil: 0 })
        .where(eq(quotes.key, key)),
    ]);
  try {
    const held = await ask();
    await set({ quoted: held.value, until: held.until });
    return held;
  } catch (error) {
    await set({});
    throw error;
  }
}

/** Takes it on to ask. False where another process has done so, or has the answer. */
async function claim(rt: Runtime, key: string, connectionId: string): Promise<boolean> {
  const now = rt.now();
  const askedUntil = now + ASKING;
  try {
    await rt.db.write([
      guardNone(quotes, and(eq(quotes.key, key), or(gt(quotes.askedUntil, now), gt(quotes.until, now)))),
      rt.db.orm
        .insert(quotes)
        .values({ key, connectionId, until: 0, askedUntil })
        .onConflictDoUpdate({ target: quotes.key, set: { askedUntil } }),
    ]);
    return true;
  } catch (error) {
    if (guardFailed(error)) return false;
    throw error;
  }
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
