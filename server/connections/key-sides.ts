import { desc, eq, inArray, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { type Profile, provenByCall } from "#core/profiles/profile";
import type { AccountReading } from "#core/profiles/answers";
import type { Endpoint, KeyCheck, KeySet } from "../database/rows";
import { keyChecks, keySets } from "../database/schema";
import type { Runtime } from "../runtime";
import type { ConnectionWithProfile } from "./connections";

/** Keys that were proven whole, and the account they were seen to open. */
export interface ProvenKeys {
  keySet: KeySet;
  account: AccountReading;
  provenAt: number;
}

/** What is recorded of a connection's keys in one mode. */
export interface KeySide {
  /** Every revision of the keys, newest first. */
  sets: KeySet[];
  current: KeySet | null;
  /** The newest check; of the newest keys, where those were checked at all. */
  check: KeyCheck | null;
  /** The newest check of the current keys that the provider answered. */
  answered: KeyCheck | null;
  /** Whether the newest check is of the keys that are there now. */
  fresh: boolean;
  /** The keys that payments are made with; null when there are none. */
  paying: ProvenKeys | null;
  /** Live only: newer proven keys, which open another account and so wait for a person to say that they are meant. */
  waiting: ProvenKeys | null;
}

export type KeySides = Record<Mode, KeySide>;

const newestOf = (condition: string, order = "") =>
  sql.raw(`(select c.id from key_checks c where c.key_set_id = "key_sets"."id" and ${condition}
    order by ${order} c.at desc, c.id desc limit 1)`);

/** Reads the keys of several connections and their checks, in two statements however many there are. */
export async function keySidesOf(
  rt: Runtime,
  connections: readonly ConnectionWithProfile[],
): Promise<Map<string, KeySides>> {
  const ids = connections.map((one) => one.connection.id);
  const [sets, checks] =
    ids.length === 0
      ? [[], []]
      : await rt.db.orm.batch([
          rt.db.orm
            .select()
            .from(keySets)
            .where(inArray(keySets.connectionId, ids))
            .orderBy(desc(keySets.number)),
          // Of each set the newest check, the newest that was answered, and the one that proved the most.
          rt.db.orm
            .select({ check: keyChecks })
            .from(keySets)
            .innerJoin(
              keyChecks,
              sql`${keyChecks.id} in (${newestOf("1")}, ${newestOf("c.unanswered is null")},
                ${newestOf("c.unanswered is null and json_type(c.account) = 'object'", "json_array_length(c.proven) desc,")})`,
            )
            .where(inArray(keySets.connectionId, ids)),
        ]);
  return new Map(
    connections.map((where) => {
      const side = (mode: Mode) =>
        keySideFrom(
          where,
          mode,
          sets.filter((set) => set.connectionId === where.connection.id && set.mode === mode),
          checks
            .map((row) => row.check)
            .filter((check) => check.connectionId === where.connection.id && check.mode === mode),
        );
      return [where.connection.id, { test: side("test"), live: side("live") }];
    }),
  );
}

export async function keySideOf(rt: Runtime, where: ConnectionWithProfile, mode: Mode): Promise<KeySide> {
  const sides = (await keySidesOf(rt, [where])).get(where.connection.id);
  return (sides as KeySides)[mode];
}

/**
 * Which keys of a side are current, and which ones pay. Test runs what stands on the sheet. Live goes on with the newest
 * set that was proven whole and opens the account that is live, so that a wrong paste never stops a live shop, a right
 * one is used from the moment it is proven, and keys of another account wait until a person says that they are meant.
 * A check that was left unanswered says nothing. `sets` are newest first.
 */
export function keySideFrom(
  { connection, versions, liveOn }: Pick<ConnectionWithProfile, "connection" | "versions" | "liveOn">,
  mode: Mode,
  sets: KeySet[],
  checks: readonly KeyCheck[],
): KeySide {
  const { profile } = versions[mode];
  const newestFirst = [...checks].sort((a, b) => b.at - a.at || (b.id > a.id ? 1 : -1));
  const of = (set: KeySet) => newestFirst.filter((check) => check.keySetId === set.id);
  const current = sets[0] ?? null;
  const checked = sets.find((set) => of(set).length > 0);
  const check = checked ? (of(checked)[0] ?? null) : null;
  const answered = (current && of(current).find((one) => one.unanswered === null)) ?? null;
  const base = { sets, current, check, answered, fresh: check !== null && check.keySetId === current?.id };
  const provenBy = (set: KeySet, found: readonly KeyCheck[]): ProvenKeys | null => {
    const proving = found.find((one) => one.unanswered === null && one.account && provesAll(profile, one));
    return proving?.account ? { keySet: set, account: proving.account, provenAt: proving.at } : null;
  };
  if (mode === "test") {
    return { ...base, paying: current && answered ? provenBy(current, [answered]) : null, waiting: null };
  }
  const proven = sets.flatMap((set) => provenBy(set, of(set)) ?? []);
  const held = liveOn.length > 0 ? connection.liveAccount : null;
  const paying = proven.find((one) => held === null || one.account.account === held) ?? null;
  const [newest] = proven;
  return { ...base, paying, waiting: newest && newest !== paying ? newest : null };
}

/** Whether a check proved every field that a call can prove. */
export const provesAll = (profile: Profile, check: Pick<KeyCheck, "proven">): boolean =>
  profile.fields.filter(provenByCall).every((field) => check.proven.includes(field.id));

/** Whether a signed message has proven every field that only a message can prove, with the values there now. */
export const messageProves = (profile: Profile, keys: KeySet | null, { heardAt }: Endpoint): boolean =>
  profile.fields
    .filter((field) => !provenByCall(field))
    .every((field) => {
      const entry = keys?.values[field.id];
      return entry !== undefined && heardAt !== null && heardAt >= entry.at;
    });

/** The keys on the sheet now, for what needs nothing else. */
export async function currentKeySet(rt: Runtime, connectionId: string, mode: Mode): Promise<KeySet | null> {
  const [row] = await rt.db.orm
    .select()
    .from(keySets)
    .where(sql`${eq(keySets.connectionId, connectionId)} and ${eq(keySets.mode, mode)}`)
    .orderBy(desc(keySets.number))
    .limit(1);
  return row ?? null;
}
