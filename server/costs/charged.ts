import { and, asc, eq, gte, lt, sql } from "drizzle-orm";
import { expectedFees } from "#core/costs/charged";
import type { Mode } from "#core/mode";
import type { Profile } from "#core/profiles/profile";
import type { Payment } from "../database/rows";
import { payments } from "../database/schema";
import { walk } from "../database/walk";
import { isThroughProvider } from "../payments/road";
import type { Runtime } from "../runtime";
import { type ConnectionNow, connectionIn, type StorefrontNow } from "../storefronts/now";

/** The month of a moment, as its beginning and its end, milliseconds since the epoch; months are those of UTC. */
export function monthOf(at: number): { from: number; to: number } {
  const day = new Date(at);
  const [year, month] = [day.getUTCFullYear(), day.getUTCMonth()];
  return { from: Date.UTC(year, month, 1), to: Date.UTC(year, month + 1, 1) };
}

const feesFor = (profile: Profile, method: string) =>
  profile.fees.methods.find((one) => one.method === method);

/** Whether an account pays out in another currency than it charges. */
function convertsAt(through: ConnectionNow | null, mode: Mode) {
  const currencies = through?.keys[mode].paying?.account.currencies ?? [];
  return (currency: string): boolean =>
    currencies.some((one) => one.charged === currency && one.settled !== currency);
}

/** What one payment should cost by the published rates, minor units; null where its method has none. */
export async function expectedFeeOf(
  rt: Runtime,
  now: StorefrontNow,
  payment: Payment,
): Promise<number | null> {
  if (!isThroughProvider(payment)) return null;
  const { connectionId, methodId, mode, currency, captured, createdAt, profileVersionId } = payment;
  const { profile } = await rt.library.version(profileVersionId);
  const fees = feesFor(profile, methodId);
  if (!fees || captured === 0) return null;
  const [before] =
    fees.tiers.length === 0
      ? []
      : await rt.db.orm
          .select({ volume: sql<number>`coalesce(sum(${payments.captured}), 0)`.mapWith(Number) })
          .from(payments)
          .where(
            and(
              eq(payments.connectionId, connectionId),
              eq(payments.mode, mode),
              gte(payments.createdAt, monthOf(createdAt).from),
              lt(payments.createdAt, createdAt),
              eq(payments.methodId, methodId),
              eq(payments.currency, currency),
            ),
          );
  const converts = convertsAt(connectionIn(now, connectionId), mode);
  const [fee] = expectedFees(fees, [{ captured, currency }], converts, { [currency]: before?.volume ?? 0 });
  return fee ?? null;
}

/** What an account charged in a month and currency beside what was expected of the same payments; minor units. */
export interface Charged {
  connectionId: string;
  currency: string;
  payments: number;
  captured: number;
  /** Payments whose fee the provider has told, and what was told. */
  told: number;
  charged: number;
  /** What those whose fee was told should have cost, and what all of them should. */
  expected: number;
  expectedOfAll: number;
}

/** As many payments of an account and a month are reckoned. */
const MOST = 100_000;

/**
 * What each account of a storefront charged in a month. An account that several storefronts share is reckoned whole, as its
 * rates are. `more`: there are more payments than were reckoned.
 */
export async function chargedIn(
  rt: Runtime,
  now: StorefrontNow,
  mode: Mode,
  month: { from: number; to: number },
): Promise<{ rows: Charged[]; more: boolean }> {
  const ids = now.connections.map(({ connection }) => connection.id);
  const charged = new Map<string, Charged>();
  let more = false;
  for (const connectionId of ids) {
    const found = await capturedIn(rt, connectionId, mode, month, MOST + 1);
    more ||= found.length > MOST;
    const converts = convertsAt(connectionIn(now, connectionId), mode);
    for (const group of groupsOf(found.slice(0, MOST))) {
      const [{ methodId, versionId }] = group;
      const { profile } = await rt.library.version(versionId);
      const fees = feesFor(profile, methodId);
      const expected = fees ? expectedFees(fees, group, converts) : group.map(() => 0);
      group.forEach(({ currency, captured, fee }, i) => {
        const key = `${connectionId} ${currency}`;
        const sums = charged.get(key) ?? nothing(connectionId, currency);
        charged.set(key, sums);
        sums.payments += 1;
        sums.captured += captured;
        sums.expectedOfAll += expected[i] ?? 0;
        if (fee === null) return;
        sums.told += 1;
        sums.charged += fee;
        sums.expected += expected[i] ?? 0;
      });
    }
  }
  const place = ({ connectionId }: Charged) => ids.indexOf(connectionId);
  const rows = [...charged.values()].sort(
    (a, b) => place(a) - place(b) || (a.currency < b.currency ? -1 : 1),
  );
  return { rows, more };
}

/** What was captured through an account in a month, in the order in which it was paid; at most so many payments. */
async function capturedIn(
  rt: Runtime,
  connectionId: string,
  mode: Mode,
  { from, to }: { from: number; to: number },
  most: number,
) {
  const within = and(eq(payments.connectionId, connectionId), eq(payments.mode, mode));
  const path = {
    table: payments,
    by: [payments.createdAt],
    upwards: true,
    within,
    least: from,
    greatest: to - 1,
  };
  const rows = await walk(rt, path, most, (stretch, left) =>
    rt.db.orm
      .select({
        methodId: payments.methodId,
        currency: payments.currency,
        captured: payments.captured,
        fee: payments.fee,
        versionId: payments.profileVersionId,
      })
      .from(payments)
      .where(and(sql`${payments.captured} > 0 and ${payments.origin} <> 'rehearsal'`, stretch))
      .orderBy(asc(payments.createdAt))
      .limit(left),
  );
  return rows.flatMap(({ versionId, ...one }) => (versionId ? [{ ...one, versionId }] : []));
}

const nothing = (connectionId: string, currency: string): Charged => ({
  ...{ connectionId, currency, payments: 0, captured: 0, told: 0, charged: 0, expected: 0, expectedOfAll: 0 },
});

/** Payments of an account by method and profile version, each group in the order of the whole and never empty. */
function groupsOf<R extends { methodId: string; versionId: string }>(rows: readonly R[]): [R, ...R[]][] {
  const groups = new Map<string, [R, ...R[]]>();
  for (const row of rows) {
    const key = `${row.methodId} ${row.versionId}`;
    const group = groups.get(key);
    if (group) group.push(row);
    else groups.set(key, [row]);
  }
  return [...groups.values()];
}
