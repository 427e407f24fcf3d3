import { and, desc, eq, isNull, type SQL, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { buildRequest, type Credentials, type WireRequest } from "#core/profiles/request";
import { type Problem, readResponse, type TokenReading } from "#core/profiles/response";
import { ProfileError } from "#core/profiles/expressions";
import { type OperationName, type Profile, ridesAlong } from "#core/profiles/profile";
import { connections, keySets, profiles } from "../database/schema";
import type { Runtime } from "../runtime";
import { addressRefused } from "./addresses";
import { keepExchange, recorded } from "./exchanges";
import { send, type Sent } from "./send";
import { accessToken } from "./tokens";

/** A connection's keys of one mode, open for use. Made per use and never kept. */
export interface Line {
  profile: Profile;
  connectionId: string;
  mode: Mode;
  keySetId: string;
  credentials: Credentials;
}

export type GatewayAnswer<T> =
  | { kind: "answered"; value: T; exchangeAt: number }
  | { kind: "refused"; problem: Problem }
  | { kind: "unanswered"; because: "time-out" | "unreachable" | "not-allowed"; says: string };

export interface CallOptions {
  paymentId?: string;
  checkoutId?: string;
  /** Values in the input that must not be kept in the recorded exchange. */
  secrets?: string[];
  /** A rehearsal's fault: the call is made, its answer thrown away. */
  loseAnswer?: boolean;
  /** An access token that came with a link, instead of one by client credentials. */
  token?: string;
}

const openedTheAccount = sql`exists (select 1 from key_checks c where c.key_set_id = ${keySets.id} and c.account is not null and c.account <> 'null')`;

/** Opens a line with a given key set, or with the newest of the mode. Null when there are no keys. */
export async function openLine(
  rt: Runtime,
  connectionId: string,
  mode: Mode,
  keySetId?: string,
): Promise<Line | null> {
  const read = (which: SQL, ...first: SQL[]) =>
    rt.db.orm
      .select({ set: keySets, profile: profiles.document })
      .from(keySets)
      .innerJoin(connections, eq(connections.id, keySets.connectionId))
      .innerJoin(profiles, eq(profiles.id, connections.profileId))
      .where(and(eq(keySets.connectionId, connectionId), which))
      .orderBy(...first, desc(keySets.number))
      .limit(1);
  const [asked] = await read(keySetId ? eq(keySets.id, keySetId) : eq(keySets.mode, mode));
  // A payment outlives the keys it began with: once they are retired, it goes on with the newest that were seen to open
  // the account, so that a wrong paste since then does not strand it.
  const [row] = asked?.set.retiredAt
    ? await read(and(eq(keySets.mode, mode), isNull(keySets.retiredAt)) as SQL, desc(openedTheAccount))
    : [asked];
  if (!row) return null;
  const credentials = Object.fromEntries(
    Object.entries(row.set.values).map(([field, { value, sealed }]) => [
      field,
      sealed ? rt.seal.open(value, `key:${connectionId}:${mode}:${field}`) : value,
    ]),
  );
  return { profile: row.profile, connectionId, mode, keySetId: row.set.id, credentials };
}

const operationLabels: Record<OperationName, string> = {
  account: "read the account",
  fieldCheck: "check a second key",
  create: "create the payment",
  read: "look the payment up",
  find: "look up by our reference",
  capture: "capture",
  void: "void",
  refund: "refund",
  list: "list payments",
  registerWebhook: "register the webhook",
  listWebhooks: "list webhooks",
  removeWebhook: "remove the webhook",
  pingWebhook: "ask for a test message",
  checkDomain: "have the domain looked at",
  linkedKeys: "fetch the linked keys",
  requestToken: "ask the device",
  readToken: "read the device’s answer",
  dropToken: "take the request back",
  actForShopper: "act for the shopper",
};

/** A request as it was sent, with what came of it, before anything is made of the answer. */
interface Sending {
  wire: WireRequest;
  sent: Sent;
  at: number;
  token?: string;
}

/**
 * Calls one operation of a provider: builds the request from the profile, sends it with a time-out, records the
 * exchange with secrets masked, and reads the answer. An access token that has ended is fetched anew, once. Never
 * throws for what a provider does.
 */
export async function call<T>(
  rt: Runtime,
  line: Line,
  name: OperationName,
  input: Readonly<Record<string, unknown>>,
  options: CallOptions = {},
): Promise<GatewayAnswer<T>> {
  try {
    let sending = await sendOnce(rt, line, name, input, options);
    if (!("sent" in sending)) return sending;
    const { token } = sending;
    if (token !== undefined && !options.token && sending.sent.ok && sending.sent.status === 401) {
      sending = await sendOnce(rt, line, name, input, options, token);
      if (!("sent" in sending)) return sending;
    }
    const { sent, at } = sending;
    const providerName = line.profile.name;
    if (options.loseAnswer && sent.ok)
      return { kind: "unanswered", because: "time-out", says: `${providerName} did not answer in time.` };
    if (!sent.ok) return { kind: "unanswered", because: sent.because, says: `${providerName} ${sent.says}` };
    const reading = await readResponse<T>(line.profile, name, sent);
    if (!reading.ok) return { kind: "refused", problem: reading.problem };
    return { kind: "answered", value: reading.value, exchangeAt: at };
  } catch (error) {
    if (!(error instanceof ProfileError)) throw error;
    if (error.code === "operation-missing" || error.code === "field-missing")
      return { kind: "unanswered", because: "not-allowed", says: error.message };
    return { kind: "refused", problem: { kind: "provider-fault", code: error.code, text: error.message } };
  }
}

async function sendOnce(
  rt: Runtime,
  line: Line,
  name: OperationName,
  input: Readonly<Record<string, unknown>>,
  options: CallOptions,
  endedToken?: string,
): Promise<Sending | GatewayAnswer<never>> {
  let { token } = options;
  if (!token && line.profile.authentication.scheme === "oauth2-client-credentials") {
    const found = await accessToken(rt, line, endedToken);
    if (!found.ok) return tokenRefused(line, found.sent);
    token = found.token;
  }
  const around = { now: rt.now(), nonce: rt.ids.secret().slice(0, 24), ...(token && { token }) };
  const wire = await buildRequest(line.profile, line.mode, name, input, line.credentials, around);
  const refused = await addressRefused(rt, wire.url);
  if (refused) return { kind: "unanswered", because: "not-allowed", says: `${wire.url}: ${refused}` };
  const at = rt.now();
  const started = performance.now();
  const sent = await send(rt, wire);
  const duration = Math.round(performance.now() - started);
  const fields = line.profile.fields
    .filter((field) => field.secret)
    .map((field) => line.credentials[field.id] ?? "");
  const handed = sent.ok ? await tokenIn(line.profile, name, sent) : [];
  const secrets = [...fields, ...(token ? [token] : []), ...(options.secrets ?? []), ...handed];
  const lost = options.loseAnswer && sent.ok;
  const outcome = lost ? "The answer was lost on purpose." : sent.ok ? undefined : sent.says;
  await keepExchange(rt, {
    at,
    duration,
    from: "zahlung",
    to: "provider",
    label: operationLabels[name],
    operation: name,
    mode: line.mode,
    connectionId: line.connectionId,
    ...(options.paymentId && { paymentId: options.paymentId }),
    ...(options.checkoutId && { checkoutId: options.checkoutId }),
    request: recorded({ ...wire, headers: Object.entries(wire.headers), body: wire.body ?? "" }, secrets),
    ...(sent.ok && !lost && { response: recorded(handsOverKeys(name, sent), secrets) }),
    ...(outcome && { outcome }),
    ok: sent.ok && !lost && sent.status < 400,
  });
  return { wire, sent, at, ...(token && { token }) };
}

/** The one-time token in a device wallet's answer, so that it is masked wherever the answer is kept. */
async function tokenIn(
  profile: Profile,
  name: OperationName,
  sent: Extract<Sent, { ok: true }>,
): Promise<string[]> {
  if (!ridesAlong(profile) || (name !== "readToken" && name !== "actForShopper")) return [];
  try {
    const reading = await readResponse<TokenReading>(profile, name, sent);
    return reading.ok && typeof reading.value.token === "string" ? [reading.value.token] : [];
  } catch {
    return [];
  }
}

/** Keys that a provider hands over are in no exchange: nobody knows yet which of its words are secret. */
const handsOverKeys = (name: OperationName, sent: Extract<Sent, { ok: true }>) =>
  name === "linkedKeys" ? { ...sent, body: "(keys, not kept)" } : sent;

/** A token that was not given: the provider refuses the client, or does not answer. */
function tokenRefused(line: Line, sent: Sent): GatewayAnswer<never> {
  const { name } = line.profile;
  if (!sent.ok) return { kind: "unanswered", because: sent.because, says: `${name} ${sent.says}` };
  let code = `HTTP ${sent.status}`;
  let text = "It gave no access token.";
  try {
    const read = JSON.parse(sent.body) as { error?: unknown; error_description?: unknown };
    if (typeof read.error === "string") code = read.error;
    if (typeof read.error_description === "string") text = read.error_description;
  } catch {
    // Its status says enough.
  }
  const known = Object.hasOwn(line.profile.problems, code) ? line.profile.problems[code] : undefined;
  const kind = known ?? (code === "invalid_client" ? "key-refused" : "provider-fault");
  return { kind: "refused", problem: { kind, code, text } };
}

/** What to say when a call did not bring what it was for: the system, what it said, and its own code. */
export function saysWhat(
  name: string,
  answer: Exclude<GatewayAnswer<unknown>, { kind: "answered" }>,
): string {
  if (answer.kind === "unanswered") return answer.says;
  return `${name} says: ${answer.problem.text || "no reason"} (${answer.problem.code})`;
}
