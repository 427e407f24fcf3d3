import { and, asc, eq, gt, or, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { Settlement } from "#core/payments/facts";
import type { EntryReading, PayoutReading } from "#core/profiles/answers";
import { own } from "#core/profiles/own";
import type { PayoutState, Profile } from "#core/profiles/profile";
import { type Told, ToldError } from "#core/said";
import type { Statement } from "../database/open";
import type { Payout, PayoutEntry } from "../database/rows";
import { payments, payoutEntries, payoutReadings, payouts } from "../database/schema";
import { accountIn, accountKey, mustAnswer, seeToAccounts } from "../gateway/accounts";
import { call, type Line, openLine } from "../gateway/gateway";
import { askFor } from "../jobs/jobs";
import { paymentsNamed } from "../payments/named";
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

/** The statement that has an account's payouts read now. */
export const askForPayouts = (rt: Runtime, connectionId: string, mode: Mode): Statement =>
  askFor(rt, { kind: "read-payouts", key: accountKey({ connectionId, mode }), lane: connectionId });

export const listsPayouts = ({ operations }: Profile): boolean =>
  operations.listPayouts !== undefined && operations.readPayout !== undefined;

/** Sees to it that the payouts of every account are read whose provider tells of them. */
export const followPayouts = (rt: Runtime): Promise<void> => seeToAccounts(rt, "read-payouts", listsPayouts);

/**
 * Reads what an account was paid out and what each payout is made of, and tells the payments. It goes on where an earlier
 * reading was broken off. Returns after how many milliseconds to read again; null where there is nothing to ask.
 * Throws what spoke against it.
 */
export async function readPayouts(rt: Runtime, key: string): Promise<number | null> {
  const line = await openLine(rt, accountIn(key));
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
