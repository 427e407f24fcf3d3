import { and, desc, eq } from "drizzle-orm";
import type { Mode } from "#core/mode";
import {
  buildRequest,
  type Credentials,
  type Problem,
  ProfileError,
  readResponse,
  type WireRequest,
} from "#core/profiles/interpret";
import type { OperationName, Profile } from "#core/profiles/profile";
import { connections, keySets, profiles } from "../database/schema";
import type { Runtime } from "../runtime";
import { addressRefused } from "./addresses";
import { keepExchange, recorded } from "./exchanges";
import { textUpTo } from "./answers";

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
}

const LONGEST_ANSWER = 2_000_000;

/** Opens a line with a given key set, or with the newest of the mode. Null when there are no keys. */
export async function openLine(
  rt: Runtime,
  connectionId: string,
  mode: Mode,
  keySetId?: string,
): Promise<Line | null> {
  const which = keySetId ? eq(keySets.id, keySetId) : eq(keySets.mode, mode);
  const [row] = await rt.db.orm
    .select({ set: keySets, profile: profiles.document })
    .from(keySets)
    .innerJoin(connections, eq(connections.id, keySets.connectionId))
    .innerJoin(profiles, eq(profiles.id, connections.profileId))
    .where(and(eq(keySets.connectionId, connectionId), which))
    .orderBy(desc(keySets.number))
    .limit(1);
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
  frameKey: "check the frame key",
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
  answerChallenge: "answer the challenge",
};

/**
 * Calls one operation of a provider: builds the request from the profile, sends it with a time-out, records the
 * exchange with secrets masked, and reads the answer. Never throws for what a provider does.
 */
export async function call<T>(
  rt: Runtime,
  line: Line,
  name: OperationName,
  input: Readonly<Record<string, unknown>>,
  options: CallOptions = {},
): Promise<GatewayAnswer<T>> {
  let wire: WireRequest;
  try {
    wire = await buildRequest(line.profile, line.mode, name, input, line.credentials);
  } catch (error) {
    if (!(error instanceof ProfileError)) throw error;
    return { kind: "unanswered", because: "not-allowed", says: error.message };
  }
  const refused = await addressRefused(rt, wire.url);
  if (refused) return { kind: "unanswered", because: "not-allowed", says: `${wire.url}: ${refused}` };
  const at = rt.now();
  const started = performance.now();
  const sent = await send(rt, wire);
  const duration = Math.round(performance.now() - started);
  const fields = line.profile.fields
    .filter((field) => field.secret)
    .map((field) => line.credentials[field.id] ?? "");
  const secrets = [...fields, ...(options.secrets ?? [])];
  const lost = options.loseAnswer && sent.ok;
  const outcome = lost ? "The answer was lost on purpose." : sent.ok ? undefined : sent.says;
  await keepExchange(rt, {
    at,
    duration,
    from: "zahlung",
    to: "provider",
    label: operationLabels[name],
    mode: line.mode,
    connectionId: line.connectionId,
    ...(options.paymentId && { paymentId: options.paymentId }),
    ...(options.checkoutId && { checkoutId: options.checkoutId }),
    request: recorded({ ...wire, headers: Object.entries(wire.headers), body: wire.body ?? "" }, secrets),
    ...(sent.ok && !lost && { response: recorded(sent, secrets) }),
    ...(outcome && { outcome }),
    ok: sent.ok && !lost && sent.status < 400,
  });
  if (lost)
    return { kind: "unanswered", because: "time-out", says: `${line.profile.name} did not answer in time.` };
  if (!sent.ok)
    return { kind: "unanswered", because: sent.because, says: `${line.profile.name} ${sent.says}` };
  try {
    const reading = await readResponse<T>(line.profile, name, sent);
    if (!reading.ok) return { kind: "refused", problem: reading.problem };
    return { kind: "answered", value: reading.value, exchangeAt: at };
  } catch (error) {
    if (!(error instanceof ProfileError)) throw error;
    return { kind: "refused", problem: { kind: "provider-fault", code: error.code, text: error.message } };
  }
}

type Sent =
  | { ok: true; status: number; body: string; headers: [string, string][] }
  | { ok: false; because: "time-out" | "unreachable"; says: string };

async function send(rt: Runtime, wire: WireRequest): Promise<Sent> {
  try {
    const response = await rt.http(wire.url, {
      method: wire.method,
      headers: { ...wire.headers, "user-agent": "Zahlung" },
      ...(wire.body !== undefined && { body: wire.body }),
      redirect: "manual",
      signal: AbortSignal.timeout(rt.settings.providerTimeout),
    });
    const body = await textUpTo(response, LONGEST_ANSWER);
    if (body === null) return { ok: false, because: "unreachable", says: "sent an endless answer." };
    return { ok: true, status: response.status, body, headers: [...response.headers] };
  } catch (error) {
    if (error instanceof DOMException && error.name === "TimeoutError") {
      return { ok: false, because: "time-out", says: "did not answer in time." };
    }
    return { ok: false, because: "unreachable", says: "could not be reached." };
  }
}

/** What to say when a call did not bring what it was for: the system, what it said, and its own code. */
export function saysWhat(
  name: string,
  answer: Exclude<GatewayAnswer<unknown>, { kind: "answered" }>,
): string {
  if (answer.kind === "unanswered") return answer.says;
  return `${name} says: ${answer.problem.text || "no reason"} (${answer.problem.code})`;
}
