import { said, type Told } from "../said";
import { type AccountReading, type Answers, LONGEST_LIST, type PaymentReading, readAnswer } from "./answers";
import { evaluate, ProfileError } from "./expressions";
import { own } from "./own";
import { nextPage, pagedLists } from "./paging";
import { paymentReading } from "./payment-reading";
import { disputesReading } from "./object-reading";
import { entriesReading, payoutsReading } from "./payout-reading";
import { quoteReading } from "./quote-reading";
import { isFileOf, rowsOf } from "./rows";
import { sessionReading } from "./session-reading";
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
  headers?: readonly (readonly [string, string])[];
}

export interface Problem {
  kind: ProblemKind;
  /** The provider's own code and words, to show and to copy. */
  code: string;
  text: Told;
}

export type OperationReading<T> = { ok: true; value: T } | { ok: false; problem: Problem };

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
 * `after` is where the page that was asked for began, of a list that has pages.
 * Throws a `ProfileError`: `operation-missing`, `expression-failed`, `reading-malformed` (with the place in the profile).
 */
export async function readResponse<N extends OperationName>(
  profile: Profile,
  name: N,
  response: WireResponse,
  after = "",
): Promise<OperationReading<Answers[N]>> {
  const operation = profile.operations[name];
  if (!operation)
    throw new ProfileError(
      "operation-missing",
      said("response.no-operation", { provider: profile.name, operation: name }),
    );
  const http = `HTTP ${response.status}`;
  const fault = (code: string, text: Told): OperationReading<Answers[N]> => ({
    ok: false,
    problem: {
      kind: own(profile.problems, code) ?? own(profile.problems, http) ?? kindOfStatus(response.status),
      code,
      text,
    },
  });
  const good = response.status >= 200 && response.status < 300;
  // A refusal is written as everything else is, also where a file was asked for.
  const { answers: file } = operation;
  if (file && good && isFileOf(file, response)) {
    const value = await ofRows(operation.response, rowsOf(file, operation.rows, response.body));
    return { ok: true, value: (await readPage(profile, name, value, response, after)) as Answers[N] };
  }
  const body = bodyData(response.body, profile.format.response);
  if (body === undefined) return fault(http, said("response.answer-not-json"));
  const { problem } = profile;
  if (good && !(problem.when && (await evaluate(problem.when, body)) === true)) {
    if (file)
      throw new ProfileError(
        "reading-malformed",
        said("response.not-a-file", { provider: profile.name, file }),
      );
    const value = await evaluate(operation.response, body);
    return { ok: true, value: (await readPage(profile, name, value, response, after)) as Answers[N] };
  }
  const code = await evaluate(problem.code, body);
  const text = await evaluate(problem.text, body);
  return typeof code === "string"
    ? fault(code, typeof text === "string" ? text : "")
    : fault(http, said("response.answer-does-not-say"));
}

/**
 * What a refusal with a code that no profile lists means, by its status (RFC 9110, section 15): a client error was refused,
 * unless it says to come back; after anything else nobody knows what was done.
 */
function kindOfStatus(status: number): ProblemKind {
  if (status === 429) return "too-many-requests";
  const comeBack = status === 408 || status === 409 || status === 423 || status === 425;
  return status >= 400 && status < 500 && !comeBack ? "refused" : "provider-fault";
}

/** So many rows are read by one evaluation, whose steps are bounded. */
const ROWS_AT_ONCE = 200;

/** What an expression makes of a file's rows, its lists put together. Throws `expression-failed`. */
async function ofRows(expression: string, rows: readonly unknown[]): Promise<Record<string, unknown[]>> {
  const all: Record<string, unknown[]> = {};
  for (let at = 0; at < rows.length; at += ROWS_AT_ONCE) {
    const made = await evaluate(expression, { rows: rows.slice(at, at + ROWS_AT_ONCE) });
    for (const [name, list] of Object.entries((made ?? {}) as Record<string, unknown>))
      (all[name] ??= []).push(...(Array.isArray(list) ? (list as unknown[]) : [list]));
  }
  return all;
}

/** What an answer says; of a page of a list also where the next one begins. */
async function readPage(
  profile: Profile,
  name: OperationName,
  value: unknown,
  { headers = [] }: WireResponse,
  after: string,
): Promise<unknown> {
  const reading = await read(profile, name, value);
  if (!isPaged(name)) return reading;
  const { next: _said, ...page } = reading as { next?: string };
  const next = nextPage(profile, name, reading as { next?: string }, headers, after);
  return next === undefined ? page : { ...page, next };
}

const isPaged = (name: OperationName): name is keyof typeof pagedLists => Object.hasOwn(pagedLists, name);

function read(profile: Profile, name: OperationName, value: unknown): unknown {
  if (name === "quote") return quoteReading(profile, value);
  if (name === "readSession" || name === "actInSession") return sessionReading(profile, value);
  if (name === "listPayouts") return payoutsReading(profile, value);
  if (name === "readPayout") return entriesReading(profile, value);
  if (name === "listDisputes") return disputesReading(profile, value);
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

/** The provider's word for its review of the account, in ours. Without a word, it follows from `mayCharge`. */
export function reviewOf({ review }: Profile, account: AccountReading): AccountState {
  const told = account.review && review && own(review.states, account.review);
  return told || (account.mayCharge ? "approved" : "restricted");
}
