import type { JSONWebKeySet } from "jose";
import type { Mode } from "#core/mode";
import type { Profile } from "#core/profiles/profile";
import type { Credentials } from "#core/profiles/request";
import type { Runtime } from "../runtime";
import { clientToken } from "../wire/oauth";
import type { Granted } from "../wire/token";
import { send } from "../wire/wire";

interface Whose {
  profile: Profile;
  connectionId: string;
  mode: Mode;
  keySetId: string;
  credentials: Credentials;
}

/**
 * An access token by client credentials: kept until shortly before it ends, fetched once however many ask at the same
 * time. `refused` is a token that the provider no longer takes.
 */
export async function accessToken(rt: Runtime, line: Whose, refused?: string): Promise<Granted> {
  const { tokens, fetching } = rt.pocket;
  const key = line.keySetId;
  const kept = tokens.get(key);
  if (kept && kept.token !== refused && kept.until > rt.now()) return { ok: true, token: kept };
  const under = fetching.get(key);
  if (under) return under;
  const fetched = clientToken(rt, line, line.credentials).then((answer) => {
    if (answer.ok) tokens.set(key, answer.token);
    else tokens.delete(key);
    return answer;
  });
  fetching.set(key, fetched);
  try {
    return await fetched;
  } finally {
    fetching.delete(key);
  }
}

const SET_LIVES = 3_600_000;
/** How soon a set may be fetched again for a key it does not hold: forged key ids must not make us ask and ask. */
const SET_RESTS = 30_000;

/**
 * A provider's set of public keys (RFC 7517): kept for an hour. `missed` asks for a newer one, because a message
 * named a key that the kept one does not hold; that is answered at most every half minute. Null: not to be had.
 */
export async function keySetOf(
  rt: Runtime,
  profile: Profile,
  mode: Mode,
  missed = false,
): Promise<JSONWebKeySet | null> {
  const address = profile.modes[mode].jwks;
  if (!address) return null;
  const { sets, asking } = rt.pocket;
  const kept = sets.get(address);
  const age = kept ? rt.now() - kept.at : Infinity;
  if (kept && age < (missed ? SET_RESTS : SET_LIVES)) return kept.set;
  const under = asking.get(address);
  if (under) return under;
  const asked = fetchSet(rt, address).then((set) => {
    if (set) sets.set(address, { at: rt.now(), set });
    return set ?? kept?.set ?? null;
  });
  asking.set(address, asked);
  try {
    return await asked;
  } finally {
    asking.delete(address);
  }
}

async function fetchSet(rt: Runtime, address: string): Promise<JSONWebKeySet | null> {
  const sent = await send(rt, { method: "GET", url: address, headers: { accept: "application/json" } });
  if (!sent.ok || sent.status !== 200) return null;
  try {
    const read = JSON.parse(sent.body) as { keys?: unknown };
    return Array.isArray(read.keys) && read.keys.length <= 50 ? (read as JSONWebKeySet) : null;
  } catch {
    return null;
  }
}
