import { and, desc, eq, isNull } from "drizzle-orm";
import type { Signing } from "#core/profiles/profile";
import { keySets } from "../database/schema";
import type { Runtime } from "../runtime";
import type { Endpoint } from "../database/rows";
import { openEndpointSecret } from "./webhook";

/** How long a replaced secret or public key still counts: what was signed with it is on its way, or comes again. */
const OVERLAP = 48 * 3_600_000;

/** The field that messages are verified with; null where Zahlung makes the secret, or a set of keys is fetched. */
export function verifyingField(signing: Signing): string | null {
  if (signing.scheme === "http-message-signature") return signing.key;
  if (signing.scheme === "detached-jws") return null;
  return signing.secret ?? null;
}

/** The secrets or public keys that a message to this address may be signed with, the newest first; none that was retired. */
export async function verifyingSecrets(rt: Runtime, endpoint: Endpoint, signing: Signing): Promise<string[]> {
  const field = verifyingField(signing);
  if (field === null) return signing.scheme === "detached-jws" ? [] : [openEndpointSecret(rt, endpoint)];
  const { connectionId, mode } = endpoint;
  const sets = await rt.db.orm
    .select()
    .from(keySets)
    .where(and(eq(keySets.connectionId, connectionId), eq(keySets.mode, mode), isNull(keySets.retiredAt)))
    .orderBy(desc(keySets.number))
    .limit(20);
  const found: string[] = [];
  let replacedAt = Infinity;
  for (const set of sets) {
    const entry = set.values[field];
    if (!entry) continue;
    if (found.length > 0 && rt.now() - replacedAt > OVERLAP) break;
    const value = entry.sealed
      ? rt.seal.open(entry.value, `key:${connectionId}:${mode}:${field}`)
      : entry.value;
    if (!found.includes(value)) found.push(value);
    replacedAt = set.createdAt;
  }
  return found;
}
