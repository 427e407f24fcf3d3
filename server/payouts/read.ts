import { and, asc, eq, gt, inArray, isNull, or, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { Settlement } from "#core/payments/facts";
import type { EntryReading, PayoutReading } from "#core/profiles/answers";
import { own } from "#core/profiles/own";
import type { PayoutState, Profile } from "#core/profiles/profile";
import { type Told, ToldError } from "#core/said";
import type { Statement } from "../database/open";
import type { Payment, Payout, PayoutEntry } from "../database/rows";
import { connections, keySets, payments, payoutEntries, payoutReadings, payouts } from "../database/schema";
import { call, type Line, openLine, saysWhat } from "../gateway/gateway";
import { askFor, seeTo } from "../jobs/jobs";
import { recordFacts } from "../payments/record";
import type { Runtime } from "../runtime";

const DAY = 86_400_000;
const HOUR = 3_600_000;
/** Payouts of so long ago are read again, in case that one came back. */
const LOOKED_BACK = 60 * DAY;
/** An account is asked so often, unless it tells of a payout or a person presses. */
const EVERY = 6 * HOUR;
/** No account has more pages than this to read in one go; the next reading goes on. */
const MOST_PAGES = 200;
const AT_A_TIME = 100;

/** What an account's payouts are read under: the connection and the mode. */
export const readingKey = (connectionId: string, mode: Mode) => `${connectionId}:${mode}`;

/** The statement that has an account's payouts read now. */
export const askForPayouts = (rt: Runtime, connectionId: string, mode: Mode): Statement =>
  askFor(rt, { kind: "read-payouts", key: readingKey(connectionId, mode), lane: connectionId });

export const listsPayouts = ({ operations }: Pick<Profile, "operations">): boolean =>
  operations.listPayouts !== undefined && operations.readPayout !== undefined;

/** Sees to it that the payouts of every account are read whose provider tells of them. */
export async function followPayouts(rt: Runtime): Promise<void> {
  const lines = await rt.db.orm
    .selectDistinct({
      connectionId: keySets.connectionId,
      mode: keySets.mode,
      versionId: sql<string>`case when ${keySets.mode} = 'test' then ${connections.testVersionId}
        else coalesce(${connections.liveVersionId}, ${connections.testVersionId}) end`,
    })
    .from(keySets)
    .innerJoin(connections, eq(connections.id, keySets.connectionId))
    .where(isNull(keySets.retiredAt));
  const wanted: Statement[] = [];
  for (const { connectionId, mode, versionId } of lines) {
    const { profile } = await rt.library.version(versionId);
    if (listsPayouts(profile))
      wanted.push(
        seeTo(rt, { kind: "read-payouts", key: readingKey(connectionId, mode), lane: connectionId }),
      );
  }
  if (wanted.length > 0) await rt.db.write(wanted);
}

/**
 * Reads what an account was paid out and what each payout is made of, and tells the payments. It goes on where an earlier
 * reading was broken off. Returns after how many milliseconds to read again; null where there is nothing to ask.
 * Throws what spoke against it.
 */
export async function readPayouts(rt: Runtime, key: string): Promise<number | null> {
  const cut = key.lastIndexOf(":");
  const [connectionId, mode] = [key.slice(0, cut), key.slice(cut + 1) as Mode];
  const line = await openLine(rt, { connectionId, mode });
  if (!line || !listsPayouts(line.profile)) return null;
  try {
    await listAll(rt, line);
    for (const payout of await unfinished(rt, line)) await readOne(rt, line, payout);
  } catch (error) {
    await rt.db.write([
      outcomeOf(rt, key, error instanceof ToldError ? error.says : (error as Error).message.slice(0, 300)),
    ]);
    throw error;
  }
  await rt.db.write([outcomeOf(rt, key, null)]);
  return EVERY;
}

function outcomeOf(rt: Runtime, id: string, outcome: Told | null): Statement {
  const row = { id, askedAt: rt.now(), outcome };
  return rt.db.orm
    .insert(payoutReadings)
    .values(row)
    .onConflictDoUpdate({ target: payoutReadings.id, set: row });
}

/** Throws what the provider said instead of an answer. */
async function mustAnswer<T>(line: Line, asked: Promise<Awaited<ReturnType<typeof call>>>): Promise<T> {
  const answer = await asked;
  if (answer.kind !== "answered") throw new ToldError(saysWhat(line.profile.name, answer));
  return answer.value as T;
}

async function listAll(rt: Runtime, line: Line): Promise<void> {
  const since = new Date(rt.now() - LOOKED_BACK).toISOString();
  let after = "";
  for (let page = 0; page < MOST_PAGES; page++) {
    const { payouts: told, next } = await mustAnswer<{ payouts: PayoutReading[]; next?: string }>(
      line,
      call(rt, line, "listPayouts", { since, after }),
    );
    const statements = told.map((one) => seen(rt, line, one));
    if (statements.length > 0) await rt.db.write(statements);
    if (next === undefined || next === after) return;
    after = next;
  }
}

/** A word that no profile explains says at least that the payout is there; it is kept. */
function stateOf(
  { payouts: words = {} }: Profile,
  word: string,
): { state: PayoutState; word: string | null } {
  const state = own(words, word);
  return state ? { state, word: null } : { state: "announced", word: word.slice(0, 100) };
}

/** The statement that keeps a payout as it is told now. One whose amount has changed is read anew. */
function seen(rt: Runtime, { connectionId, mode, profile }: Line, told: PayoutReading): Statement {
  const { state, word } = stateOf(profile, told.state);
  const row = {
    ...{ id: rt.ids.next("pyo"), connectionId, mode, providerId: told.id, currency: told.currency },
    ...{
      amount: told.amount,
      state,
      word,
      paidAt: told.at,
      arrivesAt: told.arrives ?? null,
      seenAt: rt.now(),
    },
    ...{ readFrom: null, isRead: false, odd: state === "failed" },
  };
  return rt.db.orm
    .insert(payouts)
    .values(row)
    .onConflictDoUpdate({
      target: [payouts.connectionId, payouts.mode, payouts.providerId],
      set: {
        ...{
          state,
          word,
          paidAt: row.paidAt,
          arrivesAt: row.arrivesAt,
          seenAt: row.seenAt,
          amount: row.amount,
        },
        isRead: sql`${payouts.isRead} and ${payouts.amount} = ${row.amount}`,
        odd: sql`${state} = 'failed' or (${payouts.isRead} and ${payouts.amount} = ${row.amount} and ${payouts.sum} <> ${row.amount})`,
      },
    });
}

/** Payouts whose entries are not all here, or whose payments have not been told of its state. */
const unfinished = (rt: Runtime, { connectionId, mode }: Line): Promise<Payout[]> =>
  rt.db.orm
    .select()
    .from(payouts)
    .where(
      and(
        eq(payouts.connectionId, connectionId),
        eq(payouts.mode, mode),
        sql`${payouts.state} <> 'announced'`,
        or(eq(payouts.isRead, false), sql`${payouts.told} is not ${payouts.state}`),
      ),
    )
    .orderBy(asc(payouts.paidAt), asc(payouts.id));

async function readOne(rt: Runtime, line: Line, payout: Payout): Promise<void> {
  if (!payout.isRead) await readEntries(rt, line, payout);
  await tellPayments(rt, payout);
}

async function readEntries(rt: Runtime, line: Line, payout: Payout): Promise<void> {
  let after = payout.readFrom ?? "";
  for (let page = 0; page < MOST_PAGES; page++) {
    const { entries, next } = await mustAnswer<{ entries: EntryReading[]; next?: string }>(
      line,
      call(rt, line, "readPayout", { payout: payout.providerId, after }),
    );
    const isLast = next === undefined || next === after;
    const rows = await entryRows(rt, line, payout, entries);
    await rt.db.write([
      ...rows.map((row) => rt.db.orm.insert(payoutEntries).values(row).onConflictDoNothing()),
      reckoned(rt, payout, isLast ? null : next, isLast),
    ]);
    if (isLast) return;
    after = next;
  }
}

/** The statement that brings a payout's count and sum up to its entries. */
const reckoned = (rt: Runtime, { id }: Payout, readFrom: string | null, isRead: boolean): Statement => {
  const of = (what: string) =>
    sql.raw(`(select ${what} from payout_entries e where e.payout_id = payouts.id)`);
  const sum = of("coalesce(sum(e.net), 0)");
  return rt.db.orm
    .update(payouts)
    .set({
      readFrom,
      isRead,
      entries: sql`${of("count(*)")}`,
      sum: sql`${sum}`,
      odd: sql`state = 'failed' or (${isRead ? 1 : 0} = 1 and ${sum} <> amount)`,
    })
    .where(eq(payouts.id, id));
};

async function entryRows(
  rt: Runtime,
  { connectionId, mode, profile }: Line,
  payout: Payout,
  entries: readonly EntryReading[],
): Promise<PayoutEntry[]> {
  const payment = await paymentsNamed(rt, { connectionId, mode }, entries);
  return entries.map((entry) => ({
    ...{ id: rt.ids.next("pye"), payoutId: payout.id, providerId: entry.id, word: entry.kind.slice(0, 100) },
    kind: own(profile.entries ?? {}, entry.kind) ?? "other",
    paymentId: payment(entry)?.id ?? null,
    ...{ ref: entry.ref ?? null, reference: entry.reference ?? null, at: entry.at ?? null },
    ...{ currency: entry.currency, amount: entry.amount, fee: entry.fee, net: entry.net },
  }));
}

/** Finds the payments that entries name, by our reference before the provider's. */
async function paymentsNamed(
  rt: Runtime,
  { connectionId, mode }: Pick<Line, "connectionId" | "mode">,
  entries: readonly EntryReading[],
): Promise<(entry: EntryReading) => Pick<Payment, "id"> | undefined> {
  const [byReference, byRef] = [new Map<string, { id: string }>(), new Map<string, { id: string }>()];
  for (let at = 0; at < entries.length; at += AT_A_TIME) {
    const some = entries.slice(at, at + AT_A_TIME);
    const named = (pick: (entry: EntryReading) => string | undefined) =>
      some.flatMap((one) => pick(one) ?? []);
    const found = await rt.db.orm
      .select({ id: payments.id, reference: payments.reference, providerRef: payments.providerRef })
      .from(payments)
      .where(
        and(
          eq(payments.connectionId, connectionId),
          eq(payments.mode, mode),
          or(
            inArray(
              payments.reference,
              named((one) => one.reference),
            ),
            inArray(
              payments.providerRef,
              named((one) => one.ref),
            ),
          ),
        ),
      );
    for (const { id, reference, providerRef } of found) {
      byReference.set(reference, { id });
      if (providerRef !== null) byRef.set(providerRef, { id });
    }
  }
  return ({ reference = "", ref = "" }) => byReference.get(reference) ?? byRef.get(ref);
}

/** Tells the payments of a payout that they are in it, or that it came back. */
async function tellPayments(rt: Runtime, payout: Payout): Promise<void> {
  const state = payout.state === "failed" ? ("failed" as const) : ("paid" as const);
  let last = "";
  for (;;) {
    const rows = await rt.db.orm
      .select({ entry: payoutEntries, currency: payments.currency })
      .from(payoutEntries)
      .innerJoin(payments, eq(payments.id, payoutEntries.paymentId))
      .where(and(eq(payoutEntries.payoutId, payout.id), gt(payoutEntries.id, last)))
      .orderBy(asc(payoutEntries.id))
      .limit(AT_A_TIME);
    for (const { entry, currency } of rows) {
      // An entry of another currency than the payment's says nothing of its money; it stands in the payout.
      if (!entry.paymentId || entry.currency !== currency) continue;
      const statement: Settlement = {
        ...{ object: "settlement", id: `${payout.id} ${entry.providerId}`, payout: payout.id },
        ...{ amount: entry.amount, fee: entry.fee, settled: payout.currency, state },
        // One that came back can be sent once more under the same name: what was read last holds.
        sequence: payout.seenAt,
      };
      await recordFacts(rt, entry.paymentId, [
        {
          key: `settlement:${statement.id}:${state}:${payout.seenAt}`,
          source: "look-up",
          at: payout.paidAt,
          statement,
        },
      ]);
    }
    last = rows.at(-1)?.entry.id ?? last;
    if (rows.length < AT_A_TIME) break;
  }
  await rt.db.write([rt.db.orm.update(payouts).set({ told: payout.state }).where(eq(payouts.id, payout.id))]);
}
