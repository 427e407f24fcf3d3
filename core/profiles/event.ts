import { evaluate, ProfileError } from "./expressions";
import type { Profile } from "./profile";
import type { KeptReading, ListedDispute, PaymentReading, ToldRefund } from "./answers";
import { instantOf } from "./instant";
import { own } from "./own";
import { Fields, type Raw } from "./fields";
import { disputeAlone, refundAlone } from "./object-reading";
import { keptReading, paymentReading } from "./payment-reading";
import { bodyData } from "./response";

export type EventReading =
  | { kind: "payment"; name: string; at: number; payment: PaymentReading }
  | { kind: "ping"; name: string }
  /** Something about the account changed: it has to be read again. */
  | { kind: "account"; name: string }
  /** Something was paid out: the payouts have to be read again. */
  | { kind: "payout"; name: string }
  /** A refund or a dispute by itself: nothing is said of the rest of its payment. */
  | { kind: "refund"; name: string; at: number; refund: ToldRefund }
  | { kind: "dispute"; name: string; at: number; dispute: ListedDispute }
  /** What became of something that a shopper has kept: it is gone, or is called otherwise or ends at another time. */
  | { kind: "kept"; name: string; kept: KeptReading & { gone: boolean } }
  | { kind: "unknown"; name: string };

export type PaymentEvent = Extract<EventReading, { kind: "payment" }>;
export type ObjectEvent = Extract<EventReading, { kind: "refund" | "dispute" }>;

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
  if (kind === "kept") {
    const kept = webhooks.kept ? ((await evaluate(webhooks.kept, event)) as Raw | undefined) : undefined;
    const fields = new Fields({ webhooks, ...rest }, kept ?? {}, "", "kept.");
    return unlessMalformed(name, async () => ({
      ...{ kind, name },
      kept: { ...keptReading(fields), gone: fields.raw.gone === true },
    }));
  }
  if (kind !== "payment" && kind !== "refund" && kind !== "dispute") return { kind: "unknown", name };
  const at = instantOf(await evaluate(webhooks.at, event));
  if (Number.isNaN(at)) return { kind: "unknown", name };
  if (kind !== "payment") {
    const leads = webhooks[kind];
    const found = leads ? ((await evaluate(leads, event)) as Raw | undefined) : undefined;
    const fields = new Fields({ webhooks, ...rest }, found ?? {}, "", `${kind}.`);
    return unlessMalformed(name, async () =>
      kind === "refund"
        ? { kind, name, at, refund: refundAlone(fields) }
        : { kind, name, at, dispute: disputeAlone(fields) },
    );
  }
  return unlessMalformed(name, async () => ({
    ...{ kind, name, at },
    payment: await paymentReading({ webhooks, ...rest }, await evaluate(webhooks.payment, event)),
  }));
}

/** What is read, or `unknown` where the message does not hold what the profile looks for. */
async function unlessMalformed(name: string, read: () => Promise<EventReading>): Promise<EventReading> {
  try {
    return await read();
  } catch (error) {
    if (!(error instanceof ProfileError) || error.code !== "reading-malformed") throw error;
    return { kind: "unknown", name };
  }
}
