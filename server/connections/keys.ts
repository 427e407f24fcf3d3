import { and, desc, eq, isNull, ne, sql } from "drizzle-orm";
import { type AccountFinding, compareAccount } from "#core/connect/account";
import { checkForm, type FormCheck } from "#core/connect/form";
import type { Mode } from "#core/mode";
import { fieldOf, type OperationName, type Profile, provenByCall } from "#core/profiles/profile";
import { type AccountReading, reviewOf } from "#core/profiles/response";
import { changeSettings } from "../audit/audit";
import { connections, keyChecks, keySets } from "../database/schema";
import { call, type GatewayAnswer, type Line, openLine, saysWhat } from "../gateway/gateway";
import { isConflict } from "../database/open";
import type { Runtime } from "../runtime";
import { digestOf } from "../settings";
import { storefrontOf } from "../storefronts/storefronts";
import {
  type ConnectionWithProfile,
  currentKeySet,
  type Endpoint,
  type KeySet,
  servedBy,
} from "./connections";

export type KeyCheck = typeof keyChecks.$inferSelect;

/** A pasted value that was not kept, beside the field it was meant for. */
export type Entered = Record<string, FormCheck>;

/** Takes one pasted key: see `enterKeys`. */
export async function enterKey(
  rt: Runtime,
  person: string,
  where: ConnectionWithProfile,
  mode: Mode,
  fieldId: string,
  pasted: string,
): Promise<FormCheck> {
  const entered = await enterKeys(rt, person, where, mode, { [fieldId]: pasted });
  return (
    entered[fieldId] ?? {
      ok: false,
      value: "",
      trimmed: false,
      code: "malformed",
      says: "There is no such field.",
    }
  );
}

/**
 * Takes pasted keys: checks their form, keeps those that fit as one new key set, and proves the set by calls. A key
 * of wrong form, of the other column or of another connection is not kept. Returns each form check; what the calls
 * found is read with `latestCheck`.
 */
export async function enterKeys(
  rt: Runtime,
  person: string,
  where: ConnectionWithProfile,
  mode: Mode,
  pasted: Readonly<Record<string, string>>,
): Promise<Entered> {
  const { connection, profile } = where;
  const entered: Entered = {};
  const values: KeySet["values"] = {};
  for (const [fieldId, text] of Object.entries(pasted)) {
    const field = fieldOf(profile, fieldId);
    if (!field) continue;
    const check = checkForm(profile, field, mode, text);
    const elsewhere =
      check.ok && field.secret ? await standsElsewhere(rt, where, mode, digestOf(check.value)) : null;
    entered[fieldId] = elsewhere ? { ...check, ok: false, code: "stands-elsewhere", says: elsewhere } : check;
    if (!check.ok || elsewhere) continue;
    values[fieldId] = {
      value: field.secret
        ? rt.seal.close(check.value, `key:${connection.id}:${mode}:${fieldId}`)
        : check.value,
      sealed: field.secret,
      hint: check.value.slice(-4),
      at: rt.now(),
      digest: digestOf(check.value),
    };
  }
  if (Object.keys(values).length === 0) return entered;
  await keepKeySet(rt, person, where, mode, values);
  await proveKeys(rt, where, mode);
  return entered;
}

/**
 * Keeps a new revision of a mode's keys: what stood there with these values in its place. When another entry was
 * quicker, this one is made from what that left, so that neither is lost.
 */
async function keepKeySet(
  rt: Runtime,
  person: string,
  { connection }: ConnectionWithProfile,
  mode: Mode,
  values: KeySet["values"],
): Promise<void> {
  const fingerprints = Object.fromEntries(Object.entries(values).map(([id, { digest }]) => [id, digest]));
  for (let attempt = 1; ; attempt++) {
    const old = await currentKeySet(rt, connection.id, mode);
    const row = {
      id: rt.ids.next("keys"),
      connectionId: connection.id,
      mode,
      number: (old?.number ?? 0) + 1,
      values: { ...old?.values, ...values },
      createdAt: rt.now(),
    };
    try {
      await changeSettings(
        rt,
        { person, action: "key entered", subject: connection.id, detail: { mode, fingerprints } },
        [rt.db.orm.insert(keySets).values(row)],
      );
      return;
    } catch (error) {
      if (!isConflict(error) || attempt === 20) throw error;
    }
  }
}

/** Where the same secret stands already: in the other column, or at another connection. Null: nowhere. */
async function standsElsewhere(
  rt: Runtime,
  { connection }: ConnectionWithProfile,
  mode: Mode,
  digest: string,
): Promise<string | null> {
  const holds = (set: KeySet) =>
    Object.values(set.values).some((entry) => entry.sealed && entry.digest === digest);
  const other: Mode = mode === "test" ? "live" : "test";
  const opposite = await currentKeySet(rt, connection.id, other);
  if (opposite && holds(opposite))
    return `The same key stands in the ${other} column. Each side has keys of its own.`;
  const others = await rt.db.orm
    .select({ set: keySets, name: connections.name })
    .from(keySets)
    .innerJoin(connections, eq(connections.id, keySets.connectionId))
    .where(
      and(
        ne(keySets.connectionId, connection.id),
        eq(connections.profileId, connection.profileId),
        isNull(connections.disconnectedAt),
      ),
    );
  const found = others.find(({ set }) => holds(set));
  return found ? `This key belongs to the connection “${found.name}”. One account is connected once.` : null;
}

type Found = Pick<KeyCheck, "account" | "findings" | "wrong" | "proven" | "unanswered" | "rights" | "review">;

/**
 * Proves the current keys by calls to the provider, as far as they are there, and keeps what was found: the account
 * first, then side by side the second key and each right.
 */
export async function proveKeys(
  rt: Runtime,
  { connection, profile }: ConnectionWithProfile,
  mode: Mode,
): Promise<void> {
  const line = await openLine(rt, connection.id, mode);
  if (!line || !hasFields(line, profile.operations.account?.proves ?? [])) return;
  const found: Found = {
    account: null,
    findings: [],
    wrong: {},
    proven: [],
    unanswered: null,
    rights: {},
    review: null,
  };
  const answer = await call<AccountReading>(rt, line, "account", {});
  if (answer.kind === "answered") {
    found.account = answer.value;
    found.review = reviewOf(profile, answer.value);
    found.proven.push(...(profile.operations.account?.proves ?? []));
    const [findings] = await Promise.all([
      findingsFor(rt, connection.id, answer.value),
      proveSecondField(rt, line, answer.value, found),
      ...profile.rights.map((right) => tryRight(rt, line, right, found)),
    ]);
    found.findings = findings;
  } else complain(profile, mode, "account", answer, found);
  await rt.db.write([
    rt.db.orm.insert(keyChecks).values({
      id: rt.ids.next("chk"),
      connectionId: connection.id,
      mode,
      keySetId: line.keySetId,
      at: rt.now(),
      ...found,
    }),
  ]);
}

/** The account held against every storefront it serves, each finding once. */
async function findingsFor(
  rt: Runtime,
  connectionId: string,
  account: AccountReading,
): Promise<AccountFinding[]> {
  const served = await servedBy(rt, connectionId);
  const storefronts = await Promise.all(served.map((id) => storefrontOf(rt, id)));
  const all = storefronts.flatMap((one) => (one ? compareAccount(account, one) : []));
  return all.filter((one, i) => all.findIndex((other) => other.says === one.says) === i);
}

/** Asks something harmless that needs the right. Only a clear refusal counts as lacking it. */
async function tryRight(
  rt: Runtime,
  line: Line,
  right: Profile["rights"][number],
  found: Found,
): Promise<void> {
  const answer = await call(rt, line, right.operation, right.with);
  found.rights[right.id] =
    answer.kind === "unanswered"
      ? null
      : !(answer.kind === "refused" && answer.problem.kind === "not-permitted");
}

const hasFields = (line: Line, ids: readonly string[]) =>
  ids.every((id) => line.credentials[id] !== undefined);

async function proveSecondField(
  rt: Runtime,
  line: Line,
  account: AccountReading,
  found: Found,
): Promise<void> {
  const proves = line.profile.operations.fieldCheck?.proves ?? [];
  const [field] = proves;
  if (!field || !hasFields(line, proves)) return;
  const answer = await call<{ account: string }>(rt, line, "fieldCheck", {});
  if (answer.kind !== "answered") return complain(line.profile, line.mode, "fieldCheck", answer, found);
  if (answer.value.account === account.account) found.proven.push(...proves);
  else {
    const says = `This key belongs to account ${answer.value.account}; the other keys belong to ${account.account}.`;
    found.wrong[field] = { says, code: null };
  }
}

/** Puts a refusal beside the field that caused it. */
function complain(
  profile: Profile,
  mode: Mode,
  operation: OperationName,
  answer: Exclude<GatewayAnswer<unknown>, { kind: "answered" }>,
  found: Found,
) {
  if (answer.kind === "unanswered") {
    found.unanswered = answer.says;
    return;
  }
  const { kind, code, text } = answer.problem;
  const proves = profile.operations[operation]?.proves ?? [];
  const blamed = Object.hasOwn(profile.blames, code) ? profile.blames[code] : undefined;
  const keyField = blamed ?? (operation === "account" ? profile.authentication.secret : (proves[0] ?? ""));
  const column = `${mode} column`;
  const words: Partial<Record<typeof kind, string>> = {
    "key-refused": `Key refused by ${profile.name}: it does not know it on this side.`,
    "key-of-other-mode": `Key refused by ${profile.name}: it is a key of the other side, and this is the ${column}.`,
    "key-of-other-account": `${profile.name} says: ${text}.`,
    "access-withdrawn": `${profile.name} says that access was withdrawn over there. Link the account again, or enter new keys.`,
  };
  const says = blamed ? saysWhat(profile.name, answer) : (words[kind] ?? saysWhat(profile.name, answer));
  if (kind === "key-of-other-account") for (const field of proves) found.wrong[field] = { says, code };
  else if (blamed || words[kind]) found.wrong[keyField] = { says, code };
  else found.unanswered = says;
}

/** The keys that a mode's payments are made with, and the account they were seen to open. */
export interface PayingKeys {
  keySet: KeySet;
  account: AccountReading;
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

/** A check of earlier keys may end after one of newer keys; what was found with the newer ones counts. */
const newestKeysFirst = [desc(keySets.number), desc(keyChecks.at), desc(keyChecks.id)];

export async function latestCheck(rt: Runtime, connectionId: string, mode: Mode): Promise<KeyCheck | null> {
  const [row] = await rt.db.orm
    .select({ check: keyChecks })
    .from(keyChecks)
    .innerJoin(keySets, eq(keySets.id, keyChecks.keySetId))
    .where(and(eq(keyChecks.connectionId, connectionId), eq(keyChecks.mode, mode)))
    .orderBy(...newestKeysFirst)
    .limit(1);
  return row?.check ?? null;
}
