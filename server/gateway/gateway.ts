import { type Said, said, type Told } from "#core/said";
import { and, desc, eq, isNull, type SQL, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { buildRequest, type Credentials } from "#core/profiles/request";
import type { Answers } from "#core/profiles/answers";
import { own } from "#core/profiles/own";
import { type Problem, readResponse } from "#core/profiles/response";
import { ProfileError } from "#core/profiles/expressions";
import { type OperationName, type Profile, ridesAlong } from "#core/profiles/profile";
import type { AnswerFault } from "#core/rehearsal/script";
import type { Orm } from "../database/open";
import { prepared } from "../database/prepared";
import type { Payment } from "../database/rows";
import { connections, keySets } from "../database/schema";
import { isThroughProvider } from "../payments/road";
import type { Runtime } from "../runtime";
import { type Answered, exchangeOf, type Sent, talk, wireFault } from "../wire/wire";
import { leftAloneFor, noteAnswer } from "./breakers";
import { accessToken } from "./tokens";

/** A connection's keys of one mode, open for use, with the profile version they are used with. Made per use and never kept. */
export interface Line {
  profile: Profile;
  versionId: string;
  connectionId: string;
  mode: Mode;
  keySetId: string;
  credentials: Credentials;
}

export type GatewayAnswer<T> =
  | { kind: "answered"; value: T; exchangeAt: number }
  /** `retryAfter`: milliseconds that the provider wants to be left alone, where it says so. */
  | { kind: "refused"; problem: Problem; retryAfter?: number }
  | { kind: "unanswered"; because: "time-out" | "unreachable" | "endless" | "not-allowed"; says: Told }
  /** It is left alone for a while because it did not answer before: nothing went out. `for`: milliseconds. */
  | { kind: "left-alone"; for: number; says: Told };

/**
 * What a rehearsal does to a call at Zahlung's own rim: its answer is thrown away, taken for a fault of the provider's, or
 * held back; or the provider is too busy to be asked at all.
 */
export type RimFault = AnswerFault | "busy" | { heldUntil: () => Promise<void> };

export interface CallOptions {
  paymentId?: string;
  checkoutId?: string;
  /** Values in the input that must not be kept in the recorded exchange. */
  secrets?: string[];
  fault?: RimFault;
  /** An access token that came with a link, instead of one by client credentials. */
  token?: string;
}

/** Which line to open: with a given key set, or the newest of the mode; with a given profile version, or the side's. */
export interface Wanted {
  connectionId: string;
  mode: Mode;
  keySetId?: string;
  versionId?: string;
}

const openedTheAccount = sql`exists (select 1 from key_checks c where c.key_set_id = ${keySets.id} and c.account is not null and c.account <> 'null')`;

/** Whether a key set was seen to open the account that another opened. */
const openedTheSame = (other: string) =>
  sql`exists (select 1 from key_checks c join key_checks o on o.key_set_id = ${other}
    where c.key_set_id = ${keySets.id} and c.account ->> '$.account' = o.account ->> '$.account')`;

/** A connection's keys, and the profile version that its side stands on. */
const setsOf = (orm: Orm, mode: Mode, which: SQL | undefined, ...first: SQL[]) =>
  orm
    .select({
      set: keySets,
      sideVersion:
        mode === "test"
          ? sql<string>`${connections.testVersionId}`
          : sql<string>`coalesce(${connections.liveVersionId}, ${connections.testVersionId})`,
    })
    .from(keySets)
    .innerJoin(connections, eq(connections.id, keySets.connectionId))
    .where(and(eq(keySets.connectionId, sql.placeholder("connectionId")), which))
    .orderBy(...first, desc(keySets.number))
    .limit(1);
const usualSets = prepared((orm) => {
  const of = (mode: Mode) => ({
    named: setsOf(orm, mode, eq(keySets.id, sql.placeholder("keySetId"))).prepare(),
    newest: setsOf(orm, mode, eq(keySets.mode, mode)).prepare(),
  });
  return { test: of("test"), live: of("live") };
});

/** Opens a line. Null when there are no keys. */
export async function openLine(
  rt: Runtime,
  { connectionId, mode, keySetId, versionId }: Wanted,
): Promise<Line | null> {
  const usual = usualSets(rt.db)[mode];
  const [asked] = keySetId
    ? await usual.named.all({ connectionId, keySetId })
    : await usual.newest.all({ connectionId });
  // A payment outlives the keys it began with: once they are retired, it goes on with the newest that were seen to open
  // the same account, or else an account, so that neither a wrong paste nor a move to another account strands it.
  const [row] = asked?.set.retiredAt
    ? await setsOf(
        rt.db.orm,
        mode,
        and(eq(keySets.mode, mode), isNull(keySets.retiredAt)),
        desc(openedTheSame(asked.set.id)),
        desc(openedTheAccount),
      )
        .prepare()
        .all({ connectionId })
    : [asked];
  if (!row) return null;
  const credentials = Object.fromEntries(
    Object.entries(row.set.values).map(([field, { value, sealed }]) => [
      field,
      sealed ? rt.seal.open(value, `key:${connectionId}:${mode}:${field}`) : value,
    ]),
  );
  const version = await rt.library.version(versionId ?? row.sideVersion);
  return {
    profile: version.profile,
    versionId: version.id,
    connectionId,
    mode,
    keySetId: row.set.id,
    credentials,
  };
}

/** The line of a payment: the keys and the profile version that it began with. Null where they are gone, or never were. */
export async function lineOf(rt: Runtime, payment: Payment): Promise<Line | null> {
  if (!isThroughProvider(payment)) return null;
  const { connectionId, mode, keySetId, profileVersionId: versionId } = payment;
  return openLine(rt, { connectionId, mode, keySetId, versionId });
}

/** Operations in words, as they stand in exchanges. */
export const operationLabels: Record<OperationName, Said> = {
  account: said("gateway.read-account"),
  fieldCheck: said("gateway.check-second-key"),
  create: said("gateway.create-payment"),
  confirm: said("gateway.confirm"),
  read: said("gateway.look-payment-up"),
  find: said("gateway.look-up-our-reference"),
  capture: said("gateway.capture"),
  void: said("gateway.void"),
  release: said("gateway.release"),
  refund: said("gateway.refund"),
  answerDispute: said("gateway.answer-dispute"),
  acceptDispute: said("gateway.accept-dispute"),
  decideReview: said("gateway.decide-review"),
  quote: said("gateway.quote"),
  forget: said("gateway.forget"),
  list: said("gateway.list-payments"),
  listPayouts: said("gateway.list-payouts"),
  readPayout: said("gateway.read-payout"),
  listDisputes: said("gateway.list-disputes"),
  registerWebhook: said("gateway.register-webhook"),
  listWebhooks: said("gateway.list-webhooks"),
  removeWebhook: said("gateway.remove-webhook"),
  pingWebhook: said("gateway.ask-test-message"),
  checkDomain: said("gateway.domain-looked"),
  linkedKeys: said("gateway.fetch-linked-keys"),
  requestToken: said("gateway.ask-device"),
  readToken: said("gateway.read-devices-answer"),
  dropToken: said("gateway.take-request-back"),
  openSession: said("gateway.open-session"),
  readSession: said("gateway.read-session"),
  actInSession: said("gateway.act-in-session"),
  actForShopper: said("gateway.act-shopper"),
};

type Input = Readonly<Record<string, unknown>>;

/**
 * Calls one operation of a provider: builds the request from the profile, sends it over the wire with secrets masked in
 * what is recorded, and reads the answer into the shape that the operation promises. An access token that has ended is
 * fetched anew, once. Never throws for what a provider does or a profile says wrongly.
 */
export async function call<N extends OperationName>(
  rt: Runtime,
  line: Line,
  name: N,
  input: Input,
  options: CallOptions = {},
): Promise<GatewayAnswer<Answers[N]>> {
  const wait = isGuarded.has(name) ? leftAloneFor(rt, line) : null;
  if (wait !== null) {
    const says = said("gateway.left-alone", { provider: line.profile.name });
    return { kind: "left-alone", for: wait, says };
  }
  try {
    const answer = await ask(rt, line, name, input, options);
    // What is made of an answer on purpose, or never went out, says nothing about the provider.
    const wentOut = answer.kind !== "unanswered" || answer.because !== "not-allowed";
    if (!options.fault && wentOut) await noteAnswer(rt, line, !failed(answer));
    return answer;
  } catch (error) {
    if (!(error instanceof ProfileError)) throw error;
    if (error.code === "operation-missing" || error.code === "field-missing")
      return { kind: "unanswered", because: "not-allowed", says: error.says };
    return { kind: "refused", problem: { kind: "provider-fault", code: error.code, text: error.says } };
  }
}

/** What a provider that does not answer is left alone with; whatever looks after an account goes out all the same. */
const isGuarded: ReadonlySet<OperationName> = new Set([
  ...([
    "create",
    "read",
    "find",
    "capture",
    "void",
    "release",
    "refund",
    "requestToken",
    "openSession",
  ] as const),
]);

/** Whether a provider did not answer, or broke. */
const failed = (answer: GatewayAnswer<unknown>): boolean =>
  answer.kind === "unanswered" || (answer.kind === "refused" && answer.problem.kind === "provider-fault");

async function ask<N extends OperationName>(
  rt: Runtime,
  line: Line,
  name: N,
  input: Input,
  options: CallOptions,
): Promise<GatewayAnswer<Answers[N]>> {
  let sending = await sendOnce(rt, line, name, input, options);
  if (!("sent" in sending)) return sending;
  const { token } = sending;
  if (token !== undefined && !options.token && sending.sent.ok && sending.sent.status === 401) {
    sending = await sendOnce(rt, line, name, input, options, token);
    if (!("sent" in sending)) return sending;
  }
  const { sent } = sending;
  const faulty = sent.ok && answeredFalsely(line, options.fault);
  if (faulty) return faulty;
  if (typeof options.fault === "object") await options.fault.heldUntil();
  if (!sent.ok) return unanswered(line, sending.url, sent);
  const reading = await readResponse(line.profile, name, sent, String(input.after ?? ""));
  if (!reading.ok) return { kind: "refused", problem: reading.problem, ...retryAfterOf(sent, rt.now()) };
  return { kind: "answered", value: reading.value, exchangeAt: sent.at };
}

/** How long a provider that is made out to be busy wants to be left alone, milliseconds. */
const BUSY_FOR = 500;

/** What is made of an answer on purpose; undefined where it is left as it is. */
function answeredFalsely({ profile }: Line, fault: RimFault | undefined): GatewayAnswer<never> | undefined {
  if (fault === "lost")
    return { kind: "unanswered", because: "time-out", says: said("wire.time-out", { who: profile.name }) };
  if (fault !== "broken") return undefined;
  const text = said("gateway.broken-on-purpose");
  return { kind: "refused", problem: { kind: "provider-fault", code: "500", text } };
}

/** The header Retry-After (RFC 9110, section 10.2.3): seconds, or a date. */
function retryAfterOf({ headers }: Answered, now: number): { retryAfter?: number } {
  const value = headers.find(([name]) => name.toLowerCase() === "retry-after")?.[1] ?? "";
  const wait = /^\d{1,6}$/.test(value) ? Number(value) * 1000 : Date.parse(value) - now;
  return Number.isNaN(wait) ? {} : { retryAfter: Math.max(0, wait) };
}

const unanswered = (
  { profile }: Line,
  url: string,
  sent: Exclude<Sent, { ok: true }>,
): GatewayAnswer<never> => ({
  kind: "unanswered",
  because: sent.because,
  says:
    sent.because === "not-allowed"
      ? said("gateway.not-called", { url, because: sent.refused })
      : wireFault(sent, profile.name),
});

async function sendOnce(
  rt: Runtime,
  line: Line,
  name: OperationName,
  input: Input,
  options: CallOptions,
  endedToken?: string,
): Promise<{ sent: Sent; url: string; token?: string } | GatewayAnswer<never>> {
  let { token } = options;
  if (!token && line.profile.authentication.scheme === "oauth2-client-credentials") {
    const found = await accessToken(rt, line, endedToken);
    if (!found.ok) {
      if (found.because === "unanswered")
        return { kind: "unanswered", because: "unreachable", says: found.says };
      const { code, text } = found;
      const kind =
        own(line.profile.problems, code) ?? (code === "invalid_client" ? "key-refused" : "provider-fault");
      return { kind: "refused", problem: { kind, code, text } };
    }
    token = found.token.token;
  }
  const around = { now: rt.now(), nonce: rt.ids.secret().slice(0, 24), ...(token && { token }) };
  const wire = await buildRequest(line.profile, line.mode, name, input, line.credentials, around);
  const fields = line.profile.fields
    .filter((field) => field.secret)
    .map((field) => line.credentials[field.id] ?? "");
  if (options.fault === "busy") return busy(rt, line, name, wire, [...fields, token ?? ""], options);
  const sent = await talk(rt, wire, async (answered) => {
    const handed = answered.ok ? await tokenIn(line.profile, name, answered) : [];
    const { fault } = options;
    const changed = answered.ok && (fault === "lost" || fault === "broken") && fault;
    return {
      ...marksOf(line, name, options),
      secrets: [...fields, ...(token ? [token] : []), ...(options.secrets ?? []), ...handed],
      ...(changed && { outcome: said(`gateway.answer-${changed}-purpose`), keepsBody: null, ok: false }),
      // Keys that a provider hands over are in no exchange: nobody knows yet which of its words are secret.
      ...(name === "linkedKeys" && { keepsBody: "(keys, not kept)" }),
    };
  });
  return { sent, url: wire.url, ...(token && { token }) };
}

/** What an exchange belongs to. */
const marksOf = (line: Line, name: OperationName, { paymentId, checkoutId }: CallOptions) => ({
  label: operationLabels[name],
  to: "provider" as const,
  operation: name,
  mode: line.mode,
  connectionId: line.connectionId,
  ...(paymentId && { paymentId }),
  ...(checkoutId && { checkoutId }),
});

/** What a provider says that has no time; the request never leaves. */
async function busy(
  rt: Runtime,
  line: Line,
  name: OperationName,
  wire: Parameters<typeof talk>[1],
  secrets: string[],
  options: CallOptions,
): Promise<GatewayAnswer<never>> {
  const text = said("gateway.busy-on-purpose");
  const notSent: Sent = { ok: false, because: "unreachable", at: rt.now(), duration: 0 };
  const about = {
    ...marksOf(line, name, options),
    secrets: [...secrets, ...(options.secrets ?? [])].filter((one) => one !== ""),
    outcome: text,
    ok: false,
  };
  await rt.db.write([exchangeOf(rt, wire, notSent, about)]);
  return {
    kind: "refused",
    problem: { kind: "too-many-requests", code: "429", text },
    retryAfter: BUSY_FOR,
  };
}

/** The one-time token in a device wallet's answer, so that it is masked wherever the answer is kept. */
async function tokenIn(profile: Profile, name: OperationName, sent: Answered): Promise<string[]> {
  const hands =
    name === "readSession" ||
    name === "actInSession" ||
    (ridesAlong(profile) && (name === "readToken" || name === "actForShopper"));
  if (!hands) return [];
  try {
    const reading = await readResponse(profile, name, sent);
    const value = reading.ok ? (reading.value as { token?: unknown }) : {};
    return typeof value.token === "string" ? [value.token] : [];
  } catch {
    return [];
  }
}

/**
 * What to say when a call did not bring what it was for: the system, what it said, and its own code, where that does not
 * stand beside it anyway.
 */
export function saysWhat(
  name: string,
  answer: Exclude<GatewayAnswer<unknown>, { kind: "answered" }>,
  withCode = true,
): Told {
  if (answer.kind !== "refused") return answer.says;
  const { text, code } = answer.problem;
  // Some write their code into the text themselves.
  const named = !withCode || (typeof text === "string" && text.includes(code)) ? "no" : "yes";
  return said("gateway.says", { provider: name, text: text || "none", named, code });
}
