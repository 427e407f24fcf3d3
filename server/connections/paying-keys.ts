import { and, eq, isNull, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { provenByCall } from "#core/profiles/profile";
import type { AccountReading } from "#core/profiles/response";
import { keyChecks, keySets } from "../database/schema";
import type { Runtime } from "../runtime";
import { type ConnectionWithProfile, currentKeySet, type KeySet } from "./connections";
import { newestKeysFirst, provesAll } from "./proving";

/** The keys that a mode's payments are made with, and the account they were seen to open. */
export interface PayingKeys {
  keySet: KeySet;
  account: AccountReading;
}

/**
 * The keys that payments are made with, every one that a call can prove proven; null when there are none. Test runs
 * what stands on the sheet. Live goes on with the newest set that was proven whole, so that a wrong paste never stops
 * a live shop and a right one is used from the moment it is proven. A check left unanswered says nothing.
 */
export async function payingKeys(
  rt: Runtime,
  { connection, profile }: ConnectionWithProfile,
  mode: Mode,
): Promise<PayingKeys | null> {
  const conclusive = [
    eq(keyChecks.connectionId, connection.id),
    eq(keyChecks.mode, mode),
    isNull(keyChecks.unanswered),
  ];
  if (mode === "test") {
    const entered = await currentKeySet(rt, connection.id, mode);
    if (!entered) return null;
    conclusive.push(eq(keyChecks.keySetId, entered.id));
  } else {
    const needed = profile.fields.filter(provenByCall).map((field) => field.id);
    conclusive.push(provenAllOf(needed));
  }
  const [found] = await rt.db.orm
    .select({ check: keyChecks, keySet: keySets })
    .from(keyChecks)
    .innerJoin(keySets, eq(keySets.id, keyChecks.keySetId))
    .where(and(...conclusive))
    .orderBy(...newestKeysFirst)
    .limit(1);
  const { check, keySet } = found ?? {};
  if (!keySet || !check?.account) return null;
  return provesAll(profile, check) ? { keySet, account: check.account } : null;
}

/** Checks that proved each of these fields. */
const provenAllOf = (fields: readonly string[]) =>
  sql`(select count(distinct value) from json_each(${keyChecks.proven}) where value in (select value from json_each(${JSON.stringify(fields)}))) = ${fields.length}`;
