import { type Said, said, type Told } from "../said";
import type { DeclineReason, Statement } from "../payments/facts";
import { isCurrency } from "../money/currencies";
import { parseDecimal } from "../money/money";
import { type AccountReading, type Answers, LONGEST_LIST, type PaymentReading, readAnswer } from "./answers";
import { evaluate, ProfileError } from "./expressions";
import {
  type AccountState,
  answersPayment,
  answersPayments,
  type OperationName,
  type ProblemKind,
  type Profile,
} from "./profile";

export interface WireResponse {
  status: number;
  body: string;
}

export interface Problem {
  kind: ProblemKind;
  /** The provider's own code and words, to show and to copy. */
  code: string;
  text: Told;
}

export type OperationReading<T> = { ok: true; value: T } | { ok: false; problem: Problem };

/** What a table of the profile says of a code that a provider sent; a code such as `constructor` is in none. */
export const own = <T>(table: Readonly<Record<string, T>>, code: string): T | undefined =>
  Object.hasOwn(table, code) ? table[code] : undefined;

/** A form's fields; names such as `ORDERS.0.STATE` make lists of records. The last of a repeated name counts. */
function formData(text: string): Record<string, unknown> {
  const data: Record<string, unknown> = Object.create(null) as Record<string, unknown>;
  for (const [name, value] of new URLSearchParams(text)) {
    const [, list, index, key] = /^([\w-]+)\.(\d{1,3})\.([\w-]+)$/.exec(name) ?? [];
    if (!list || !key) data[name] = value;
    else {
      const records = (Array.isArray(data[list]) ? data[list] : (data[list] = [])) as Record<
        string,
        string
      >[];
      const at = Number(index);
      if (at > records.length) continue;
      (records[at] ??= {})[key] = value;
    }
  }
  return { ...data };
}

/** An answer's body as data: JSON, or the fields of a form. Undefined when it is neither. */
export function bodyData(text: string, format: "json" | "form"): unknown {
  if (format === "form") return formData(text);
  try {
    return text === "" ? {} : JSON.parse(text);
  } catch {
    return undefined;
  }
}

/**
 * Reads an operation's answer into the shape the operation promises, or into a problem in our words.
 * Throws a `ProfileError`: `operation-missing`, `expression-failed`, `reading-malformed` (with the place in the profile).
 */
export async function readResponse<N extends OperationName>(
  profile: Profile,
  name: N,
  response: WireResponse,
): Promise<OperationReading<Answers[N]>> {
  const operation = profile.operations[name];
  if (!operation)
    throw new ProfileError(
      "operation-missing",
      said("response.no-operation", { provider: profile.name, operation: name }),
    );
  const fault = (code: string, text: Told): OperationReading<Answers[N]> => ({
    ok: false,
    problem: { kind: own(profile.problems, code) ?? "provider-fault", code, text },
  });
  const http = `HTTP ${response.status}`;
  const body = bodyData(response.body, profile.format.response);
  if (body === undefined) return fault(http, said("response.answer-not-json"));
  const { problem } = profile;
  const good = response.status >= 200 && response.status < 300;
  if (good && !(problem.when && (await evaluate(problem.when, body)) === true)) {
    const value = await evaluate(operation.response, body);
    return { ok: true, value: (await read(profile, name, value)) as Answers[N] };
  }
  const code = await evaluate(problem.code, body);
  const text = await evaluate(problem.text, body);
  return typeof code === "string"
    ? fault(code, typeof text === "string" ? text : "")
    : fault(http, said("response.answer-does-not-say"));
}

function read(profile: Profile, name: OperationName, value: unknown): unknown {
  if (answersPayment(profile, name)) return paymentReading(profile, value);
  if (answersPayments.has(name)) return paymentReadings(profile, value);
  return readAnswer(profile, name, value);
}

async function paymentReadings(profile: Profile, found: unknown): Promise<{ payments: PaymentReading[] }> {
  const list = found === undefined || found === null ? [] : Array.isArray(found) ? found : [found];
  if (list.length > LONGEST_LIST)
    throw new ProfileError(
      "reading-malformed",
      said("response.answered-more-than-payments", { provider: profile.name, most: LONGEST_LIST }),
    );
  return { payments: await Promise.all(list.map((one) => paymentReading(profile, one))) };
}

/** Reads one payment as the provider writes it. Throws `reading-malformed` when the profile does not fit it. */
export async function paymentReading(profile: Profile, payment: unknown): Promise<PaymentReading> {
  const read = (await evaluate(profile.payment ?? "$", payment)) as Record<string, unknown> | undefined;
  const no = (what: Said) =>
    new ProfileError("reading-malformed", said("response.does-not-fit", { provider: profile.name, what }));
  if (typeof read !== "object" || read === null) throw no(said("response.holds-no-payment"));
  const { currency } = read;
  const must = (name: string): string => {
    const value = read[name];
    if (typeof value !== "string" || value === "") throw no(said("response.lacks", { name }));
    return value;
  };
  if (!isCurrency(currency)) throw no(said("response.names-no-currency-iso"));
  const sum = (name: string): number => {
    const value = read[name] ?? 0;
    const parsed = amountOf(value, currency, profile.amounts);
    if (parsed === null)
      throw no(said("response.no-amount", { value: JSON.stringify(value), name, currency }));
    return parsed;
  };
  const text = (name: string) => {
    const value = read[name];
    return typeof value === "string" && value !== "" ? { [name]: value } : {};
  };
  return {
    ref: must("ref"),
    reference: must("reference"),
    currency,
    status: must("status"),
    amount: sum("amount"),
    authorised: sum("authorised"),
    captured: sum("captured"),
    refunded: sum("refunded"),
    ...text("declineCode"),
    ...text("text"),
    ...text("challenge"),
    ...text("code"),
    ...text("instrument"),
  };
}

/** Minor units from what a provider wrote: whole minor units, or decimal text of the currency. Null: neither. */
export function amountOf(value: unknown, currency: string, written: "minor" | "decimal"): number | null {
  if (written === "decimal") {
    if (value === 0) return 0;
    if (typeof value !== "string" && typeof value !== "number") return null;
    const parsed = parseDecimal(String(value), currency);
    return parsed.ok && parsed.money.amount >= 0 ? parsed.money.amount : null;
  }
  const minor = typeof value === "string" && /^\d{1,16}$/.test(value) ? Number(value) : value;
  return Number.isSafeInteger(minor) && (minor as number) >= 0 ? (minor as number) : null;
}

/** What a provider's report of a payment states, as facts in our words. */
export function statementsOf(profile: Profile, reading: PaymentReading): Statement[] {
  const kind = own(profile.statuses, reading.status);
  const statements: Statement[] = [];
  if (reading.authorised > 0) statements.push({ kind: "authorised", amount: reading.authorised });
  if (reading.captured > 0) statements.push({ kind: "captured", amount: reading.captured });
  if (reading.refunded > 0) statements.push({ kind: "refunded", amount: reading.refunded });
  const { declineCode: declined, text, challenge, code } = reading;
  switch (kind) {
    case "declined": {
      const reason: DeclineReason = (declined && own(profile.declines, declined)) || "unspecified";
      statements.push({ kind, reason, ...(declined && { code: declined }), ...(text && { text }) });
      break;
    }
    case "failed":
      statements.push({ kind, ...(declined && { code: declined }), ...(text && { text }) });
      break;
    case "pending":
      statements.push({ kind, ...(challenge && { challenge }), ...(code && { code }) });
      break;
    case "voided":
    case "expired":
    case "cancelled":
    case "disputed":
      statements.push({ kind });
      break;
  }
  return statements;
}

/** The provider's word for its review of the account, in ours. Without a word, it follows from `mayCharge`. */
export function reviewOf({ review }: Profile, account: AccountReading): AccountState {
  const told = account.review && review && own(review.states, account.review);
  return told || (account.mayCharge ? "approved" : "restricted");
}
