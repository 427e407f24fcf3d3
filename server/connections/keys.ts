import { and, desc, eq, isNull, sql } from "drizzle-orm";
import { compareAccount } from "#core/connect/account";
import { checkForm, type FormCheck } from "#core/connect/form";
import type { Mode } from "#core/mode";
import type { AccountReading } from "#core/profiles/interpret";
import { fieldOf, type OperationName, type Profile } from "#core/profiles/profile";
import { changeSettings } from "../audit/audit";
import { keyChecks, keySets } from "../database/schema";
import { call, type GatewayAnswer, type Line, openLine, saysWhat } from "../gateway/gateway";
import type { Runtime } from "../runtime";
import { digestOf } from "../settings";
import { storefrontOf } from "../storefronts/storefronts";
import { type ConnectionWithProfile, currentKeySet, type KeySet } from "./connections";

export type KeyCheck = typeof keyChecks.$inferSelect;

/**
 * Takes a pasted key: checks its form, keeps it as a new key set, and proves the set by a call. A key of wrong
 * form is not kept. Returns the form check; what the call found is read with `latestCheck`.
 */
export async function enterKey(
  rt: Runtime,
  person: string,
  { connection, profile }: ConnectionWithProfile,
  mode: Mode,
  fieldId: string,
  pasted: string,
): Promise<FormCheck> {
  const field = fieldOf(profile, fieldId);
  if (!field)
    return { ok: false, value: "", trimmed: false, code: "malformed", says: "There is no such field." };
  const check = checkForm(profile, field, mode, pasted);
  if (!check.ok) return check;
  const old = await currentKeySet(rt, connection.id, mode);
  const value = field.secret
    ? rt.seal.close(check.value, `key:${connection.id}:${mode}:${fieldId}`)
    : check.value;
  const entry = {
    value,
    sealed: field.secret,
    hint: check.value.slice(-4),
    at: rt.now(),
    digest: digestOf(check.value),
  };
  const row = {
    id: rt.ids.next("keys"),
    connectionId: connection.id,
    mode,
    number: (old?.number ?? 0) + 1,
    values: { ...old?.values, [fieldId]: entry },
    createdAt: rt.now(),
  };
  const detail = { mode, field: fieldId, hint: entry.hint };
  await changeSettings(rt, { person, action: "key entered", subject: connection.id, detail }, [
    rt.db.orm.insert(keySets).values(row),
  ]);
  await proveKeys(rt, { connection, profile }, mode);
  return check;
}

/** Proves the current keys by calls to the provider, as far as they are there, and keeps what was found. */
export async function proveKeys(
  rt: Runtime,
  { connection, profile }: ConnectionWithProfile,
  mode: Mode,
): Promise<void> {
  const line = await openLine(rt, connection.id, mode);
  const storefront = await storefrontOf(rt, connection.storefrontId);
  if (!line || !storefront || !hasFields(line, profile.operations.account?.proves ?? [])) return;
  const found: Pick<KeyCheck, "account" | "findings" | "wrong" | "proven" | "unanswered"> = {
    account: null,
    findings: [],
    wrong: {},
    proven: [],
    unanswered: null,
  };
  const answer = await call<AccountReading>(rt, line, "account", {});
  if (answer.kind === "answered") {
    found.account = answer.value;
    found.findings = compareAccount(answer.value, storefront);
    found.proven.push(...(profile.operations.account?.proves ?? []));
    await proveFrameKey(rt, line, answer.value, found);
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

const hasFields = (line: Line, ids: readonly string[]) =>
  ids.every((id) => line.credentials[id] !== undefined);

type Found = Pick<KeyCheck, "wrong" | "proven" | "unanswered">;

async function proveFrameKey(rt: Runtime, line: Line, account: AccountReading, found: Found): Promise<void> {
  const proves = line.profile.operations.frameKey?.proves ?? [];
  const [field] = proves;
  if (!field || !hasFields(line, proves)) return;
  const answer = await call<{ account: string }>(rt, line, "frameKey", {});
  if (answer.kind !== "answered") return complain(line.profile, line.mode, "frameKey", answer, found);
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
  const keyField = operation === "account" ? profile.authentication.field : (proves[0] ?? "");
  const column = `${mode} column`;
  const words: Partial<Record<typeof kind, string>> = {
    "key-refused": `Key refused by ${profile.name}: it does not know it on this side.`,
    "key-of-other-mode": `Key refused by ${profile.name}: it is a key of the other side, and this is the ${column}.`,
    "key-of-other-account": `${profile.name} says: ${text}.`,
  };
  const says = words[kind] ?? saysWhat(profile.name, answer);
  if (kind === "key-of-other-account") for (const field of proves) found.wrong[field] = { says, code };
  else if (words[kind]) found.wrong[keyField] = { says, code };
  else found.unanswered = says;
}

/** The keys that a mode's payments are made with, and the account they were seen to open. */
export interface PayingKeys {
  keySet: KeySet;
  account: AccountReading;
}

/**
 * The keys that payments are made with, every one of them proven; null when there are none. Test runs what stands
 * on the sheet. Live goes on with the newest set that was proven whole, so that a wrong paste never stops a live
 * shop and a right one is used from the moment it is proven. A check that the provider left unanswered says nothing.
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
  } else conclusive.push(sql`json_array_length(${keyChecks.proven}) >= ${profile.fields.length}`);
  const [found] = await rt.db.orm
    .select({ check: keyChecks, keySet: keySets })
    .from(keyChecks)
    .innerJoin(keySets, eq(keySets.id, keyChecks.keySetId))
    .where(and(...conclusive))
    .orderBy(desc(keyChecks.at), desc(keyChecks.id))
    .limit(1);
  const { check, keySet } = found ?? {};
  if (!keySet || !check?.account) return null;
  const whole = profile.fields.every((field) => check.proven.includes(field.id));
  return whole ? { keySet, account: check.account } : null;
}

export async function latestCheck(rt: Runtime, connectionId: string, mode: Mode): Promise<KeyCheck | null> {
  const [row] = await rt.db.orm
    .select()
    .from(keyChecks)
    .where(and(eq(keyChecks.connectionId, connectionId), eq(keyChecks.mode, mode)))
    .orderBy(desc(keyChecks.at), desc(keyChecks.id))
    .limit(1);
  return row ?? null;
}
