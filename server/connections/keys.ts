import { type Said, said } from "#core/said";
import { and, eq, isNull, ne } from "drizzle-orm";
import { checkForm, type FormCheck } from "#core/connections/form";
import type { Mode } from "#core/mode";
import { fieldOf } from "#core/profiles/profile";
import { changeSettings } from "../audit/audit";
import { isConflict } from "../database/guard";
import type { KeySet } from "../database/rows";
import { connections, keySets } from "../database/schema";
import type { Runtime } from "../runtime";
import { digestOf } from "../settings";
import type { ConnectionWithProfile } from "./connections";
import { currentKeySet } from "./key-sides";
import { proveKeys } from "./proving";

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
      says: said("keys.no-such-field"),
    }
  );
}

/**
 * Takes pasted keys: checks their form, keeps those that fit as one new key set, and proves the set by calls. A key
 * of wrong form or of the other column is not kept; one that stands at another connection too is kept, and said.
 * Returns each form check; what the calls found is read with `keySideOf`.
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
    const opposite =
      check.ok && field.secret ? await standsOpposite(rt, where, mode, digestOf(check.value)) : null;
    entered[fieldId] = opposite ? { ...check, ok: false, code: "stands-elsewhere", says: opposite } : check;
    if (!check.ok || opposite) continue;
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

const holds = (set: KeySet, digests: ReadonlySet<string>) =>
  Object.values(set.values).some((entry) => entry.sealed && digests.has(entry.digest));

/** Why a secret is not kept that stands in the other column already; null when it does not. */
async function standsOpposite(
  rt: Runtime,
  { connection }: ConnectionWithProfile,
  mode: Mode,
  digest: string,
): Promise<Said | null> {
  const other: Mode = mode === "test" ? "live" : "test";
  const opposite = await currentKeySet(rt, connection.id, other);
  return opposite && holds(opposite, new Set([digest]))
    ? said("keys.same-key-stands-column", { other })
    : null;
}

/** Other connections that the keys on the sheet stand at too: one account connected twice. */
export async function alsoConnectedAs(
  rt: Runtime,
  { connection }: ConnectionWithProfile,
  keys: KeySet | null,
): Promise<string[]> {
  const secrets = new Set(
    Object.values(keys?.values ?? {}).flatMap((entry) => (entry.sealed ? [entry.digest] : [])),
  );
  if (!keys || secrets.size === 0) return [];
  const others = await rt.db.orm
    .select({ set: keySets, name: connections.name })
    .from(keySets)
    .innerJoin(connections, eq(connections.id, keySets.connectionId))
    .where(
      and(
        ne(keySets.connectionId, connection.id),
        eq(keySets.mode, keys.mode),
        isNull(keySets.retiredAt),
        eq(connections.profileId, connection.profileId),
        isNull(connections.disconnectedAt),
      ),
    );
  return [...new Set(others.filter(({ set }) => holds(set, secrets)).map((one) => one.name))];
}
