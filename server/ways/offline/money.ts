import { and, eq } from "drizzle-orm";
import type { Movement } from "#core/payments/facts";
import { type Said, said } from "#core/said";
import type { Statement } from "../../database/open";
import type { Payment } from "../../database/rows";
import { facts, offerRevisions } from "../../database/schema";
import { changeSettings } from "../../audit/audit";
import { paymentOf, recordFacts } from "../../payments/record";
import type { Runtime } from "../../runtime";

const DAY = 86_400_000;
/** Where nobody gives an order up by itself, it is waited for so long. */
const LONG = 3_650 * DAY;

/** Until when money that no provider moves is waited for, milliseconds since the epoch. */
export async function offlineUntil(rt: Runtime, { dueAt, createdAt, revisionId }: Payment): Promise<number> {
  const [revision] = await rt.db.orm
    .select({ document: offerRevisions.document })
    .from(offerRevisions)
    .where(eq(offerRevisions.id, revisionId));
  const expireDays = revision?.document.offline?.expireDays ?? null;
  return (dueAt ?? createdAt) + (expireDays === null ? LONG : expireDays * DAY);
}

/** Ends a payment of which nothing came. False when something did: then it is a person's to give back. */
export async function letGoOffline(
  rt: Runtime,
  { id }: Payment,
  state: "cancelled" | "expired",
): Promise<boolean> {
  const payment = await paymentOf(rt, id);
  if (!payment || payment.captured > payment.refunded) return false;
  const statement = { object: "attempt", state } as const;
  await recordFacts(rt, id, [{ key: `zahlung:${state}`, source: "zahlung", at: rt.now(), statement }]);
  return true;
}

/** What a person writes down about money that no provider moves; amounts in minor units of the payment's currency. */
export interface Entry {
  amount: number;
  /** When it happened, milliseconds since the epoch. */
  on: number;
  note: string;
  /** Tells one press from another. */
  once: string;
}

export type Noted = { ok: true; payment: Payment; says: Said } | { ok: false; says: Said };

const LONGEST_NOTE = 200;

/** Writes down that money came for a payment: all of it, a part, or too much. `beside` is written with it or not at all. */
export const receive = (
  rt: Runtime,
  person: string,
  payment: Payment,
  entry: Entry,
  beside: readonly Statement[] = [],
): Promise<Noted> =>
  entry.on < payment.createdAt - 30 * DAY
    ? Promise.resolve({ ok: false, says: said("offline.long-before") })
    : note(rt, person, payment, "capture", entry, said("offline.came"), beside);

/** Writes down that money was given back, no more than came. */
export async function giveBack(rt: Runtime, person: string, payment: Payment, entry: Entry): Promise<Noted> {
  const { captured, refunded } = (await paymentOf(rt, payment.id)) ?? payment;
  if (entry.amount > captured - refunded) return { ok: false, says: said("offline.more-than-came") };
  return note(rt, person, payment, "refund", entry, said("offline.given-back"));
}

async function note(
  rt: Runtime,
  person: string,
  payment: Payment,
  object: "capture" | "refund",
  { amount, on, note: text, once }: Entry,
  done: Said,
  beside: readonly Statement[] = [],
): Promise<Noted> {
  if (payment.connectionId !== null) return { ok: false, says: said("offline.through-provider") };
  if (!Number.isSafeInteger(amount) || amount <= 0) return { ok: false, says: said("offline.no-sum") };
  if (on > rt.now() + DAY) return { ok: false, says: said("offline.not-yet") };
  const key = `admin:${object}:${once}`;
  const statement: Movement = {
    ...{ object, id: once, amount, state: "succeeded" },
    ...(text.trim() && { text: text.trim().slice(0, LONGEST_NOTE) }),
  };
  const fact = { key, source: "admin" as const, at: on, statement, person };
  const recorded = await recordFacts(rt, payment.id, [fact], { with: beside });
  if (!recorded) return { ok: false, says: said("offline.gone") };
  if (recorded.added > 0) await noteDown(rt, person, payment, `${object} noted`, { amount, once });
  return { ok: true, payment: recorded.payment, says: done };
}

/** Takes back what was written down by mistake. */
export async function takeBack(rt: Runtime, person: string, payment: Payment, once: string): Promise<Noted> {
  const [known] = await rt.db.orm
    .select()
    .from(facts)
    .where(
      and(eq(facts.paymentId, payment.id), eq(facts.source, "admin"), eq(facts.key, `admin:capture:${once}`)),
    );
  if (known?.statement.object !== "capture") return { ok: false, says: said("offline.no-such-entry") };
  const { refunded, captured } = (await paymentOf(rt, payment.id)) ?? payment;
  const statement: Movement = { ...known.statement, state: "failed" };
  if (captured - statement.amount < refunded) return { ok: false, says: said("offline.given-back-already") };
  const fact = { key: `admin:taken-back:${once}`, source: "admin" as const, at: rt.now(), statement, person };
  const recorded = await recordFacts(rt, payment.id, [fact]);
  if (!recorded) return { ok: false, says: said("offline.gone") };
  await noteDown(rt, person, payment, "capture taken back", { amount: statement.amount, once });
  return { ok: true, payment: recorded.payment, says: said("offline.taken-back") };
}

const noteDown = (
  rt: Runtime,
  person: string,
  { id: subject }: Payment,
  action: string,
  detail: Record<string, unknown>,
) => changeSettings(rt, { person, action, subject, detail }, []);

/** Ends a payment that nobody will pay any more, as a person says. */
export async function giveUp(rt: Runtime, person: string, payment: Payment): Promise<Noted> {
  if (payment.connectionId !== null) return { ok: false, says: said("offline.through-provider") };
  if (!(await letGoOffline(rt, payment, "cancelled")))
    return { ok: false, says: said("offline.money-there") };
  await noteDown(rt, person, payment, "payment given up", {});
  return {
    ok: true,
    payment: (await paymentOf(rt, payment.id)) ?? payment,
    says: said("offline.given-up"),
  };
}
