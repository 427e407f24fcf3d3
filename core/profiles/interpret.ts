import jsonata from "jsonata";
import type { DeclineReason, Statement } from "../payments/facts";
import type { Mode } from "../mode";
import type { OperationName, ProblemKind, Profile } from "./profile";

/** The values of a connection's fields, by field id, in the clear. Lives only at the gateway's rim. */
export type Credentials = Readonly<Record<string, string>>;

export interface WireRequest {
  method: string;
  url: string;
  headers: Record<string, string>;
  body?: string;
}

export interface WireResponse {
  status: number;
  body: string;
}

export interface Problem {
  kind: ProblemKind;
  /** The provider's own code and words, to show and to copy. */
  code: string;
  text: string;
}

export type OperationReading<T> = { ok: true; value: T } | { ok: false; problem: Problem };

/** A payment as a provider reports it. Amounts are totals in minor units. */
export interface PaymentReading {
  ref: string;
  reference: string;
  currency: string;
  amount: number;
  status: string;
  authorised: number;
  captured: number;
  refunded: number;
  declineCode?: string;
  text?: string;
  challenge?: string;
  instrument?: string;
}

export interface AccountReading {
  account: string;
  name: string;
  country: string;
  currencies: { charged: string; settled: string }[];
  mayCharge: boolean;
  because?: string;
}

/** Thrown when a profile cannot do what is asked: `operation-missing`, `field-missing`, `expression-failed`. */
export class ProfileError extends Error {
  constructor(
    readonly code: "operation-missing" | "field-missing" | "expression-failed",
    message: string,
  ) {
    super(message);
    this.name = "ProfileError";
  }
}

const compiled = new Map<string, jsonata.Expression>();

/** Evaluates a JSONata expression against `input` alone. Throws `expression-failed`. */
async function evaluate(source: string, input: unknown): Promise<unknown> {
  try {
    let expression = compiled.get(source);
    if (!expression) {
      expression = jsonata(source);
      compiled.set(source, expression);
    }
    const result: unknown = await expression.evaluate(input);
    // JSONata marks its arrays; a copy through JSON leaves plain data.
    return result === undefined ? undefined : JSON.parse(JSON.stringify(result));
  } catch (error) {
    throw new ProfileError("expression-failed", `${source}: ${(error as Error).message}`);
  }
}

const fill = (template: string, values: Readonly<Record<string, unknown>>) =>
  template.replace(/\{([a-zA-Z-]+)\}/g, (_, name: string) => {
    const value = values[name];
    if (value === undefined) throw new ProfileError("field-missing", `{${name}} has no value`);
    return encodeURIComponent(String(value));
  });

/** What a table of the profile says of a code that a provider sent; a code such as `constructor` is in none. */
const own = <T>(table: Readonly<Record<string, T>>, code: string): T | undefined =>
  Object.hasOwn(table, code) ? table[code] : undefined;

/** Builds the HTTP request of an operation. Throws a `ProfileError`. */
export async function buildRequest(
  profile: Profile,
  mode: Mode,
  name: OperationName,
  input: Readonly<Record<string, unknown>>,
  credentials: Credentials,
): Promise<WireRequest> {
  const operation = profile.operations[name];
  if (!operation || (operation.modes && !operation.modes.includes(mode))) {
    throw new ProfileError("operation-missing", `${profile.name} has no ${name} in ${mode} mode`);
  }
  const { request } = operation;
  const scope = { ...input, ...credentials };
  const secret = credentials[profile.authentication.field];
  if (secret === undefined)
    throw new ProfileError("field-missing", `${profile.authentication.field} is missing`);
  const headers: Record<string, string> = { accept: "application/json", authorization: `Bearer ${secret}` };
  for (const [header, source] of Object.entries({ ...profile.authentication.headers, ...request.headers })) {
    headers[header.toLowerCase()] = String(await evaluate(source, scope));
  }
  const wire: WireRequest = {
    method: request.method,
    url: profile.modes[mode].api + fill(request.path, scope),
    headers,
  };
  if (request.body === undefined) return wire;
  headers["content-type"] = "application/json";
  return { ...wire, body: JSON.stringify(await evaluate(request.body, scope)) };
}

/** Reads an operation's answer into the shape the operation promises, or into a problem in our words. */
export async function readResponse<T>(
  profile: Profile,
  name: OperationName,
  response: WireResponse,
): Promise<OperationReading<T>> {
  const operation = profile.operations[name];
  if (!operation) throw new ProfileError("operation-missing", `${profile.name} has no ${name}`);
  const fault = (code: string, text: string): OperationReading<T> => ({
    ok: false,
    problem: { kind: own(profile.problems, code) ?? "provider-fault", code, text },
  });
  let body: unknown;
  try {
    body = response.body === "" ? {} : JSON.parse(response.body);
  } catch {
    return fault(`HTTP ${response.status}`, "The answer is not JSON.");
  }
  if (response.status >= 200 && response.status < 300) {
    const value = await evaluate(operation.response, body);
    return value === undefined
      ? fault(`HTTP ${response.status}`, "The answer is empty.")
      : { ok: true, value: value as T };
  }
  const code = await evaluate(profile.problem.code, body);
  const text = await evaluate(profile.problem.text, body);
  return typeof code === "string"
    ? fault(code, typeof text === "string" ? text : "")
    : fault(`HTTP ${response.status}`, "The answer does not say what was wrong.");
}

/** What a provider's report of a payment states, as facts in our words. */
export function statementsOf(profile: Profile, reading: PaymentReading): Statement[] {
  const kind = own(profile.statuses, reading.status);
  const statements: Statement[] = [];
  if (reading.authorised > 0) statements.push({ kind: "authorised", amount: reading.authorised });
  if (reading.captured > 0) statements.push({ kind: "captured", amount: reading.captured });
  if (reading.refunded > 0) statements.push({ kind: "refunded", amount: reading.refunded });
  const { declineCode: code, text, challenge } = reading;
  switch (kind) {
    case "declined": {
      const reason: DeclineReason = (code && own(profile.declines, code)) || "unspecified";
      statements.push({ kind, reason, ...(code && { code }), ...(text && { text }) });
      break;
    }
    case "failed":
      statements.push({ kind, ...(code && { code }), ...(text && { text }) });
      break;
    case "pending":
      statements.push({ kind, ...(challenge && { challenge }) });
      break;
    case "voided":
    case "expired":
    case "disputed":
      statements.push({ kind });
      break;
  }
  return statements;
}

export type EventReading =
  | { kind: "payment"; name: string; at: number; payment: PaymentReading }
  | { kind: "ping"; name: string }
  | { kind: "unknown"; name: string };

/** Reads a verified webhook's body. A body that is no JSON, or an event the profile does not list, is `unknown`. */
export async function readEvent(profile: Profile, body: string): Promise<EventReading> {
  let event: unknown;
  try {
    event = JSON.parse(body);
  } catch {
    return { kind: "unknown", name: "not JSON" };
  }
  const { webhooks } = profile;
  const name = String((await evaluate(webhooks.kind, event)) ?? "unnamed").slice(0, 100);
  const kind = own(webhooks.kinds, name);
  if (kind === "ping") return { kind, name };
  if (kind !== "payment") return { kind: "unknown", name };
  const payment = (await evaluate(webhooks.payment, event)) as PaymentReading | undefined;
  const at = Date.parse(String(await evaluate(webhooks.at, event)));
  if (!payment?.ref || Number.isNaN(at)) return { kind: "unknown", name };
  return { kind, name, at, payment };
}

/** The address of the provider's card frame for one checkout. */
export function frameAddress(
  profile: Profile,
  mode: Mode,
  credentials: Credentials,
  page: { origin: string; language: string },
): string {
  return fill(profile.browser.address[mode], { ...credentials, ...page });
}
