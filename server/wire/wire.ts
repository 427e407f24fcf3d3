import type { Mode } from "#core/mode";
import { type Said, said, type Told } from "#core/said";
import type { Lane } from "#core/score";
import type { Statement } from "../database/open";
import { exchangeRow, recorded } from "../exchanges/exchanges";
import type { Runtime } from "../runtime";
import { addressRefused } from "./addresses";
import { textUpTo } from "./answers";

/** One request that goes out, whoever it is for. */
export interface Outgoing {
  method: string;
  url: string;
  headers: Record<string, string>;
  body?: string;
}

interface Timed {
  /** When it was sent, and how long the answer took: milliseconds. */
  at: number;
  duration: number;
}

/** What came of it; `refused` says why an address was not called. */
export type Sent = Timed &
  (
    | { ok: true; status: number; body: string; headers: [string, string][] }
    | { ok: false; because: "not-allowed"; refused: Said }
    | { ok: false; because: "time-out" | "unreachable" | "endless" }
  );

/** What to say of a request that was not answered. `who` was asked. */
export const wireFault = (sent: Extract<Sent, { ok: false }>, who: string | Said): Said =>
  sent.because === "not-allowed" ? sent.refused : said(`wire.${sent.because}`, { who });

export type Answered = Extract<Sent, { ok: true }>;

/** What is kept of an exchange beside what was sent and answered. */
export interface About {
  label: Told;
  to: Lane;
  from?: Lane;
  mode: Mode;
  operation?: string;
  connectionId?: string;
  checkoutId?: string;
  paymentId?: string;
  /** Values that must not be kept, those that the answer brings included. */
  secrets: readonly string[];
  /** Whether the answer was good; by default, when its status is. */
  ok?: boolean;
  /** What came of it, where the answer does not say it. */
  outcome?: Told;
  /** What is kept instead of the answer's body; null: nothing is kept of the answer. */
  keepsBody?: string | null;
}

export interface SendOptions {
  /** Milliseconds it may take; a provider's by default. */
  within?: number;
  /** Bytes that an answer may have. */
  most?: number;
  /** Zahlung's own origin is called by a rehearsal; the guard lets it through at the socket. */
  own?: boolean;
}

const LONGEST_ANSWER = 2_000_000;

/** Sends one request: to allowed addresses only, within its time, without following, and reads no endless answer. Never throws. */
export async function send(
  rt: Pick<Runtime, "settings" | "http" | "now">,
  { method, url, headers, body }: Outgoing,
  { within = rt.settings.providerTimeout, most = LONGEST_ANSWER, own = false }: SendOptions = {},
): Promise<Sent> {
  const at = rt.now();
  const started = performance.now();
  const ended = () => ({ at, duration: Math.round(performance.now() - started) });
  const refused = own ? undefined : await addressRefused(rt, url);
  if (refused) return { ok: false, because: "not-allowed", refused, ...ended() };
  try {
    const response = await rt.http(url, {
      method,
      headers: { ...headers, "user-agent": "Zahlung" },
      ...(body !== undefined && { body }),
      redirect: "manual",
      signal: AbortSignal.timeout(within),
    });
    const text = await textUpTo(response, most);
    if (text === null) return { ok: false, because: "endless", ...ended() };
    return { ok: true, status: response.status, body: text, headers: [...response.headers], ...ended() };
  } catch (error) {
    return error instanceof DOMException && error.name === "TimeoutError"
      ? { ok: false, because: "time-out", ...ended() }
      : { ok: false, because: "unreachable", ...ended() };
  }
}

/** The statement that keeps an exchange, secrets masked, for a batch with what it belongs to. */
export function exchangeOf(rt: Runtime, outgoing: Outgoing, sent: Sent, about: About): Statement {
  const { secrets, ok, outcome, keepsBody, from = "zahlung", ...rest } = about;
  const { headers, body = "", ...line } = outgoing;
  const told = outcome ?? (sent.ok ? undefined : wireFault(sent, said("wire.it")));
  const answer = sent.ok && keepsBody !== null ? { ...sent, body: keepsBody ?? sent.body } : null;
  return exchangeRow(rt, {
    ...rest,
    from,
    at: sent.at,
    duration: sent.duration,
    request: recorded({ ...line, headers: Object.entries(headers), body }, secrets),
    ...(answer && {
      response: recorded({ status: answer.status, headers: answer.headers, body: answer.body }, secrets),
    }),
    ...(told && { outcome: told }),
    ok: ok ?? (sent.ok && sent.status < 400),
  });
}

/** Sends one request and keeps the exchange. `about` may depend on what was answered. */
export async function talk(
  rt: Runtime,
  outgoing: Outgoing,
  about: (sent: Sent) => About | Promise<About>,
  options?: SendOptions,
): Promise<Sent> {
  const sent = await send(rt, outgoing, options);
  // What was not even allowed is said to whoever asked for it, and was no exchange.
  if (sent.ok || sent.because !== "not-allowed")
    await rt.db.write([exchangeOf(rt, outgoing, sent, await about(sent))]);
  return sent;
}
