import { evaluate, ProfileError } from "./expressions";
import type { Profile } from "./profile";
import type { PaymentReading } from "./answers";
import { instantOf } from "./instant";
import { own } from "./own";
import { paymentReading } from "./payment-reading";
import { bodyData } from "./response";

export type EventReading =
  | { kind: "payment"; name: string; at: number; payment: PaymentReading }
  | { kind: "ping"; name: string }
  /** Something about the account changed: it has to be read again. */
  | { kind: "account"; name: string }
  /** Something was paid out: the payouts have to be read again. */
  | { kind: "payout"; name: string }
  | { kind: "unknown"; name: string };

export type PaymentEvent = Extract<EventReading, { kind: "payment" }>;

/**
 * Reads a verified webhook's body. One that cannot be read, an event the profile does not list, or a payment the
 * profile does not fit is `unknown`. Throws `expression-failed`.
 */
export async function readEvent({ webhooks, ...rest }: Profile, body: string): Promise<EventReading> {
  const event = webhooks && bodyData(body, webhooks.format);
  if (!webhooks || event === undefined) return { kind: "unknown", name: "not JSON" };
  const name = String((await evaluate(webhooks.kind, event)) ?? "unnamed").slice(0, 100);
  const kind = own(webhooks.kinds, name);
  if (kind === "ping" || kind === "account" || kind === "payout") return { kind, name };
  if (kind !== "payment") return { kind: "unknown", name };
  const at = instantOf(await evaluate(webhooks.at, event));
  if (Number.isNaN(at)) return { kind: "unknown", name };
  try {
    const payment = await paymentReading({ webhooks, ...rest }, await evaluate(webhooks.payment, event));
    return { kind, name, at, payment };
  } catch (error) {
    if (!(error instanceof ProfileError) || error.code !== "reading-malformed") throw error;
    return { kind: "unknown", name };
  }
}
