import type { JSONWebKeySet } from "jose";
import type { Mode } from "#core/mode";
import { fieldOf, type Profile } from "#core/profiles/profile";
import { tokenRequest } from "#core/profiles/request";
import type { Runtime } from "../runtime";
import { addressRefused } from "./addresses";
import { keepExchange, recorded } from "./exchanges";
import type { Line } from "./gateway";
import { send, type Sent } from "./send";

interface Kept {
  token: string;
  until: number;
}

export type Token = { ok: true; token: string } | { ok: false; sent: Sent };

interface Pocket {
  tokens: Map<string, Kept>;
  fetching: Map<string, Promise<Token>>;
  sets: Map<string, { at: number; set: JSONWebKeySet }>;
  asking: Map<string, Promise<JSONWebKeySet | null>>;
}

const pockets = new WeakMap<Runtime, Pocket>();
function pocketOf(rt: Runtime): Pocket {
  const pocket = pockets.get(rt) ?? {
    tokens: new Map(),
    fetching: new Map(),
    sets: new Map(),
    asking: new Map(),
  };
  pockets.set(rt, pocket);
  return pocket;
}

/** Seconds before its end in which a token counts as over, so that none ends on its way. */
const EARLY = 30;

/**
 * An access token by client credentials for a line (RFC 6749): kept until shortly before it ends, fetched once
 * however many ask at the same time. `refused` is a token that the provider no longer takes.
 */
export async function accessToken(rt: Runtime, line: Line, refused?: string): Promise<Token> {
  const { tokens, fetching } = pocketOf(rt);
  const key = line.keySetId;
  const kept = tokens.get(key);
  if (kept && kept.token !== refused && kept.until > rt.now()) return { ok: true, token: kept.token };
  const under = fetching.get(key);
  if (under) return under;
  const fetched = fetchToken(rt, line).then((answer) => {
    if (answer.ok) tokens.set(key, answer.kept);
    else tokens.delete(key);
    return answer.ok ? ({ ok: true, token: answer.kept.token } as const) : answer;
  });
  fetching.set(key, fetched);
  try {
    return await fetched;
  } finally {
    fetching.delete(key);
  }
}

async function fetchToken(
  rt: Runtime,
  line: Line,
): Promise<{ ok: true; kept: Kept } | { ok: false; sent: Sent }> {
  const wire = tokenRequest(line.profile, line.mode, line.credentials);
  const refused = await addressRefused(rt, wire.url);
  if (refused) return { ok: false, sent: { ok: false, because: "unreachable", says: refused } };
  const at = rt.now();
  const started = performance.now();
  const sent = await send(rt, wire);
  const kept = sent.ok && sent.status < 300 ? keptFrom(sent.body, at) : null;
  const secrets = Object.entries(line.credentials)
    .filter(([id]) => fieldOf(line.profile, id)?.secret)
    .map(([, value]) => value);
  await keepExchange(rt, {
    at,
    duration: Math.round(performance.now() - started),
    from: "zahlung",
    to: "provider",
    label: "fetch an access token",
    operation: "token",
    mode: line.mode,
    connectionId: line.connectionId,
    request: recorded({ ...wire, headers: Object.entries(wire.headers), body: wire.body ?? "" }, secrets),
    ...(sent.ok && { response: recorded(sent, kept ? [...secrets, kept.token] : secrets) }),
    ...(!sent.ok && { outcome: sent.says }),
    ok: kept !== null,
  });
  return kept ? { ok: true, kept } : { ok: false, sent };
}

function keptFrom(body: string, at: number): Kept | null {
  try {
    const read = JSON.parse(body) as { access_token?: unknown; expires_in?: unknown };
    if (typeof read.access_token !== "string" || !/^[\x21-\x7e]{1,4000}$/.test(read.access_token))
      return null;
    const seconds = typeof read.expires_in === "number" && read.expires_in > 0 ? read.expires_in : 60;
    return { token: read.access_token, until: at + Math.max(seconds - EARLY, 1) * 1000 };
  } catch {
    return null;
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
  const { sets, asking } = pocketOf(rt);
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
  if (await addressRefused(rt, address)) return null;
  const sent = await send(rt, { method: "GET", url: address, headers: { accept: "application/json" } });
  if (!sent.ok || sent.status !== 200) return null;
  try {
    const read = JSON.parse(sent.body) as { keys?: unknown };
    return Array.isArray(read.keys) && read.keys.length <= 50 ? (read as JSONWebKeySet) : null;
  } catch {
    return null;
  }
}
