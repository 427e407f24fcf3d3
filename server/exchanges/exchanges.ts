import { type Told } from "#core/said";
import type { Mode } from "#core/mode";
import { mask, maskHeaders } from "#core/masking";
import type { Lane } from "#core/score";
import { insertRow } from "../database/prepared";
import { exchanges, type RecordedMessage } from "../database/schema";
import type { Runtime } from "../runtime";

const LONGEST_BODY = 20_000;

/** A message as it may be kept: headers and body with secrets and card numbers masked, long bodies cut. */
export function recorded(
  message: {
    method?: string;
    url?: string;
    status?: number;
    headers: Iterable<readonly [string, string]>;
    body: string;
  },
  secrets: readonly string[],
): RecordedMessage {
  return {
    ...(message.method && { method: message.method }),
    ...(message.url && { url: mask(message.url, secrets) }),
    ...(message.status && { status: message.status }),
    headers: maskHeaders(message.headers, secrets),
    body: mask(message.body, secrets).slice(0, LONGEST_BODY),
  };
}

export interface NewExchange {
  at: number;
  duration?: number;
  from: Lane;
  to: Lane;
  label: Told;
  /** The profile's operation, or what else was asked of a provider. */
  operation?: string;
  mode: Mode;
  connectionId?: string;
  checkoutId?: string;
  paymentId?: string;
  request?: RecordedMessage;
  response?: RecordedMessage;
  outcome?: Told;
  ok: boolean;
}

/** The statement that keeps an exchange, for a batch with what it belongs to. */
export function exchangeRow(rt: Runtime, exchange: NewExchange) {
  return insertRow(rt.db, exchanges, { id: rt.ids.next("exc"), ...exchange });
}

export async function keepExchange(rt: Runtime, exchange: NewExchange): Promise<void> {
  await rt.db.write([exchangeRow(rt, exchange)]);
}
