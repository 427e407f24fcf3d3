import { said, type Told } from "#core/said";
import { and, desc, eq } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { PaymentState } from "#core/payments/facts";
import type { OperationName, Profile, ProfileInstrument, ProfileMethod } from "#core/profiles/profile";
import type { AccountReading, Answers, PaymentReading } from "#core/profiles/answers";
import type { OrderInScope } from "#core/profiles/request";
import { standingOf } from "#core/profiles/statements";
import type { ConnectionWithProfile } from "../connections/connections";
import { exchanges, type RecordedMessage, webhooks } from "../database/schema";
import { call, type GatewayAnswer, type Line, saysWhat } from "../gateway/gateway";
import type { Runtime } from "../runtime";

/** One thing that was held against the provider. `holds` is null where it could not be tried. */
export interface Finding {
  what: string;
  holds: boolean | null;
  says: Told;
  /** The exchange at fault, secrets masked. */
  exchange?: { request: RecordedMessage | null; response: RecordedMessage | null };
}

export interface ConformOptions {
  mode: Mode;
  /** Field id → value. */
  keys: Readonly<Record<string, string>>;
  /** Called when the provider has to be told our address by hand; resolves once that is done. */
  byHand?: (address: string) => Promise<void>;
  /** A domain on which a device wallet's provider finds its file. */
  domain?: string;
  /** Milliseconds that a message may take. */
  patience: number;
  /** Called with each finding as it comes. */
  onFinding?: (finding: Finding) => void;
}

type Unanswered = Exclude<GatewayAnswer<unknown>, { kind: "answered" }>;

/** An order to pay, as `create` is given it. */
export interface Order extends Record<string, unknown> {
  amount: number;
  currency: string;
  reference: string;
}

/** One run of a profile against its provider: what is known so far, and what was found. */
export class Run {
  readonly findings: Finding[] = [];
  line: Line | null = null;
  where: ConnectionWithProfile | null = null;
  /** Whether a signed message has been believed, so that others can be waited for. */
  hears = false;
  /** The account as it was read back. */
  account: AccountReading | null = null;
  /** Which method findings are of, in words to add to their names; empty for the profile's first. */
  of = "";
  #counter = 0;

  constructor(
    readonly rt: Runtime,
    readonly profile: Profile,
    readonly options: ConformOptions,
  ) {}

  say(what: string, holds: boolean | null, says: Told, exchange?: Finding["exchange"]) {
    const finding: Finding = { what: what + this.of, holds, says, ...(exchange && { exchange }) };
    this.findings.push(finding);
    this.options.onFinding?.(finding);
  }

  /** Says whether something holds; where it does not, with the newest exchange. */
  async hold(what: string, holds: boolean, yes: Told, no: Told) {
    if (holds) return this.say(what, true, yes);
    const [last] = await this.rt.db.orm
      .select()
      .from(exchanges)
      .orderBy(desc(exchanges.at), desc(exchanges.id))
      .limit(1);
    this.say(what, false, no, last && { request: last.request, response: last.response });
  }

  /** Says that an operation did not bring what it was for, and why. */
  refused(what: string, operation: OperationName, answer: Unanswered) {
    const because = saysWhat(this.profile.name, answer);
    return this.hold(what, false, "", said("conformance.of-operation", { operation, because }));
  }

  messages() {
    const id = this.where?.connection.id ?? "";
    return this.rt.db.orm
      .select()
      .from(webhooks)
      .where(and(eq(webhooks.connectionId, id), eq(webhooks.mode, this.options.mode)));
  }

  async until(holds: () => Promise<boolean>): Promise<boolean> {
    const end = performance.now() + this.options.patience;
    for (;;) {
      if (await holds()) return true;
      if (performance.now() > end) return false;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  }

  ask<N extends OperationName>(name: N, input: Record<string, unknown>): Promise<GatewayAnswer<Answers[N]>> {
    if (!this.line) throw new Error("there are no keys");
    return call(this.rt, this.line, name, input);
  }

  /** Whether the account was read back with a method switched off. */
  isOff(method: ProfileMethod): boolean {
    return this.account?.methods?.some((one) => one.id === method.id && !one.on) ?? false;
  }

  /** An order to pay that the method's own limits let through. */
  order(method: ProfileMethod, instrument?: ProfileInstrument, change: Record<string, unknown> = {}): Order {
    const charged = this.account?.currencies.map((one) => one.charged) ?? [];
    const currency = method.currencies.find((one) => charged.includes(one)) ?? method.currencies[0] ?? "EUR";
    const amount = Math.min(
      Math.max(method.minimum[currency] ?? 0, 2490),
      method.maximum[currency] ?? Infinity,
    );
    const reference = `conform-${this.rt.ids.next("c").slice(-12)}-${(this.#counter += 1)}`;
    return {
      amount,
      currency,
      token: instrument?.token ?? null,
      methodId: method.id,
      language: "en",
      country: method.shopperCountries[0] ?? "DE",
      capture: method.capture[0] ?? "at-once",
      authentication: method.authentication[0] ?? "issuer",
      statement: "CONFORMANCE",
      reference,
      returnAddress: `${this.rt.settings.origin}/back`,
      order: sampleOrder(amount),
      idempotencyKey: reference,
      ...change,
    };
  }

  stateOf(reading: PaymentReading): PaymentState {
    return standingOf(this.profile, reading).state;
  }
}

/** What is bought for an amount, minor units: one thing, delivered for nothing. */
const sampleOrder = (amount: number): OrderInScope => ({
  number: "CONFORM-1",
  lines: [{ name: "Conformance", quantity: 1, unit: amount, total: amount }],
  ...{ shipping: 0, tax: 0, taxIncluded: true, total: amount, payNow: amount },
  email: "conformance@example.org",
  billTo: { name: "C. Onform", lines: ["Probe 1"], postcode: "10115", city: "Berlin", country: "DE" },
  shopper: "conformance",
});
