import { and, desc, eq } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { declineReasons, type DeclineReason, type PaymentState, stateWords } from "#core/payments/facts";
import { fold } from "#core/payments/fold";
import { decimalText } from "#core/money/money";
import type { OperationName, Profile, ProfileInstrument, ProfileMethod } from "#core/profiles/profile";
import { type PaymentReading, statementsOf } from "#core/profiles/response";
import { exchanges, type RecordedMessage, webhooks } from "../database/schema";
import {
  addConnection,
  type ConnectionWithProfile,
  connectionOf,
  currentEndpoint,
  endpointAddress,
} from "../connections/connections";
import { enterKeys, latestCheck } from "../connections/keys";
import { verifyingField } from "../connections/verifying";
import { pingWebhook, registerWebhook } from "../connections/webhook";
import { call, type GatewayAnswer, type Line, openLine, saysWhat } from "../gateway/gateway";
import type { Runtime } from "../runtime";
import { addStorefront } from "../storefronts/storefronts";

/** One thing that was held against the provider. `holds` is null where it could not be tried. */
export interface Finding {
  what: string;
  holds: boolean | null;
  says: string;
  /** The exchange at fault, secrets masked. */
  exchange?: { request: RecordedMessage | null; response: RecordedMessage | null };
}

export interface ConformOptions {
  mode: Mode;
  /** Field id → value. */
  keys: Readonly<Record<string, string>>;
  /** Called when the provider has to be told our address by hand; resolves once that is done. */
  byHand?: (address: string) => Promise<void>;
  /** Milliseconds that a message may take. */
  patience: number;
  /** Called with each finding as it comes. */
  onFinding?: (finding: Finding) => void;
}

/**
 * Runs a profile against its provider: the keys, the account, the rights, the webhook, every operation and every
 * outcome that it declares, with the provider's sandbox calls in the shopper's place. `rt` is a runtime of its own
 * whose intake can be reached; nothing of it is kept.
 */
export async function conform(rt: Runtime, profile: Profile, options: ConformOptions): Promise<Finding[]> {
  const run = new Run(rt, profile, options);
  await run.all();
  return run.findings;
}

interface Order extends Record<string, unknown> {
  amount: number;
  currency: string;
  reference: string;
}

type Payments = { payments: PaymentReading[] };

class Run {
  readonly findings: Finding[] = [];
  #line: Line | null = null;
  #where: ConnectionWithProfile | null = null;
  #hears = false;
  #counter = 0;

  constructor(
    readonly rt: Runtime,
    readonly profile: Profile,
    readonly options: ConformOptions,
  ) {}

  async all() {
    if (!(await this.#connect())) return;
    await this.#webhook();
    const [method] = this.profile.methods;
    if (!method || !this.profile.operations.create) return;
    if (this.options.mode === "live")
      return this.#say("Payments", null, "Payments are not tried in live: they would move money.");
    for (const instrument of this.profile.instruments) await this.#outcome(method, instrument);
    const approved = this.profile.instruments.find((one) => one.case === "approved");
    if (!approved)
      return this.#say(
        "Test instruments",
        false,
        "There is none for the case “approved”, so nothing else can be tried.",
      );
    await this.#operations(method, approved);
  }

  #say(what: string, holds: boolean | null, says: string, exchange?: Finding["exchange"]) {
    const finding: Finding = { what, holds, says, ...(exchange && { exchange }) };
    this.findings.push(finding);
    this.options.onFinding?.(finding);
  }

  /** Says whether something holds; where it does not, with the newest exchange. */
  async #hold(what: string, holds: boolean, yes: string, no: string) {
    if (holds) return this.#say(what, true, yes);
    const [last] = await this.rt.db.orm
      .select()
      .from(exchanges)
      .orderBy(desc(exchanges.at), desc(exchanges.id))
      .limit(1);
    this.#say(what, false, no, last && { request: last.request, response: last.response });
  }

  async #connect(): Promise<boolean> {
    const { rt, profile, options } = this;
    const currencies = [...new Set(profile.methods.flatMap((method) => method.currencies))];
    await addStorefront(rt, "conformance", {
      id: `conform-${profile.id}`,
      name: "Conformance",
      domain: "shop.example",
      https: true,
      country: profile.merchantCountries[0] ?? "DE",
      languages: ["en"],
      currencies,
      groups: [{ id: "all", name: "All" }],
    });
    const id = await addConnection(rt, "conformance", { profile, storefrontId: `conform-${profile.id}` });
    this.#where = await connectionOf(rt, id);
    if (!this.#where) throw new Error("the connection that was just made is gone");
    const missing = profile.fields.filter((field) => !options.keys[field.id]).map((field) => field.id);
    if (missing.length > 0) {
      this.#say("Keys", false, `No value was given for ${missing.join(", ")}.`);
      return false;
    }
    const entered = await enterKeys(rt, "conformance", this.#where, options.mode, options.keys);
    for (const [field, check] of Object.entries(entered))
      this.#say(`Field ${field}`, check.ok, check.ok ? "Its value fits the pattern." : check.says);
    if (Object.values(entered).some((check) => !check.ok)) return false;
    this.#line = await openLine(rt, id, options.mode);
    const check = await latestCheck(rt, id, options.mode);
    const wrong = Object.entries(check?.wrong ?? {}).map(([field, { says }]) => `${field}: ${says}`);
    await this.#hold(
      "account",
      check?.account != null,
      `Read back as ${check?.account?.account ?? ""}, ${check?.account?.name ?? ""}.`,
      [check?.unanswered, ...wrong].filter(Boolean).join(" ") || "The account could not be read.",
    );
    if (!check?.account || !this.#line) return false;
    const { account, country, currencies: charged, mayCharge } = check.account;
    const whole =
      typeof account === "string" &&
      /^[A-Z]{2}$/.test(country) &&
      Array.isArray(charged) &&
      typeof mayCharge === "boolean";
    await this.#hold(
      "account, its shape",
      whole,
      "Account, country, currencies and whether it may charge are there.",
      "The mapping does not give account, country (two capitals), currencies (a list) and mayCharge (true or false).",
    );
    const unproven = profile.fields.filter(
      (field) => field.provenBy === "call" && !check.proven.includes(field.id),
    );
    await this.#hold(
      "Every key proven by a call",
      unproven.length === 0,
      "Each was.",
      `Not proven: ${unproven.map((field) => field.id).join(", ")}. Which operation “proves” it?`,
    );
    for (const right of profile.rights) {
      const held = check.rights[right.id];
      this.#say(
        `Right ${right.id}`,
        held ?? null,
        held === false
          ? `The key lacks it. ${right.why}`
          : held
            ? "The key has it."
            : "The provider did not say.",
      );
    }
    return whole;
  }

  async #webhook() {
    const { rt, profile, options } = this;
    const where = this.#where;
    if (!where || !profile.webhooks) return this.#say("Webhook", null, "The profile has none.");
    const endpoint = await currentEndpoint(rt, where.connection.id, options.mode);
    if (profile.operations.registerWebhook) {
      const made = await registerWebhook(rt, "conformance", where, options.mode);
      await this.#hold("registerWebhook", made.ok, "Our address is registered.", made.ok ? "" : made.says);
      if (!made.ok) return;
      const again = await registerWebhook(rt, "conformance", where, options.mode);
      await this.#hold(
        "listWebhooks",
        again.ok,
        "It is found again in the list.",
        again.ok ? "" : again.says,
      );
    } else if (options.byHand) await options.byHand(endpointAddress(rt, endpoint));
    else
      return this.#say(
        "Webhook",
        null,
        `Nobody made ${endpointAddress(rt, endpoint)} known to the provider, so messages were not tried.`,
      );
    if (profile.operations.pingWebhook) {
      const sent = await pingWebhook(rt, where, options.mode);
      await this.#hold("pingWebhook", sent.ok, "A test message was asked for.", sent.ok ? "" : sent.says);
    }
    const proven = async () =>
      (await currentEndpoint(rt, where.connection.id, options.mode)).provenAt !== null;
    const refusedOne = async () => (await this.#messages()).find((one) => one.verdict !== "verified");
    await this.#until(async () => (await proven()) || (await refusedOne()) !== undefined);
    const heard = await proven();
    this.#hears = heard;
    const refused = await refusedOne();
    const key = verifyingField(profile.webhooks.signing);
    this.#say(
      "Webhook, a signed message",
      heard,
      heard
        ? "One arrived and was believed."
        : refused
          ? `One arrived and was refused: ${refused.verdict}. Is “signing” as the provider signs${key ? `, and ${key} the right value` : ""}?`
          : "None arrived.",
    );
  }

  #messages() {
    const id = this.#where?.connection.id ?? "";
    return this.rt.db.orm
      .select()
      .from(webhooks)
      .where(and(eq(webhooks.connectionId, id), eq(webhooks.mode, this.options.mode)));
  }

  async #until(holds: () => Promise<boolean>): Promise<boolean> {
    const end = Date.now() + this.options.patience;
    for (;;) {
      if (await holds()) return true;
      if (Date.now() > end) return false;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  }

  #ask<T>(name: OperationName, input: Record<string, unknown>): Promise<GatewayAnswer<T>> {
    if (!this.#line) throw new Error("there are no keys");
    return call<T>(this.rt, this.#line, name, input);
  }

  /** An order to pay that the method's own limits let through. */
  #order(method: ProfileMethod, instrument: ProfileInstrument, change: Record<string, unknown> = {}): Order {
    const currency = method.currencies[0] ?? "EUR";
    const amount = Math.min(
      Math.max(method.minimum[currency] ?? 0, 2490),
      method.maximum[currency] ?? Infinity,
    );
    const reference = `conform-${this.rt.ids.next("c").slice(-12)}-${(this.#counter += 1)}`;
    return {
      amount,
      currency,
      token: instrument.token ?? null,
      methodId: method.id,
      language: "en",
      country: method.shopperCountries[0] ?? "DE",
      capture: method.capture[0] ?? "at-once",
      authentication: method.authentication[0] ?? "issuer",
      statement: "CONFORMANCE",
      reference,
      returnAddress: `${this.rt.settings.origin}/back`,
      idempotencyKey: reference,
      ...change,
    };
  }

  #stateOf(reading: PaymentReading): PaymentState {
    return fold(
      statementsOf(this.profile, reading).map((statement, i) => ({
        key: String(i),
        source: "answer" as const,
        at: i,
        statement,
      })),
    ).state;
  }

  /** Creates a payment and lets the shopper answer. Null, and said, when it went wrong on the way. */
  async #made(what: string, order: Order, answer: string | undefined): Promise<PaymentReading | null> {
    const created = await this.#ask<PaymentReading>("create", order);
    if (created.kind !== "answered") {
      await this.#hold(what, false, "", `create: ${saysWhat(this.profile.name, created)}`);
      return null;
    }
    if (!answer) return created.value;
    const played = await this.#ask<PaymentReading>("actForShopper", { ref: created.value.ref, answer });
    if (played.kind === "answered") return played.value;
    await this.#hold(what, false, "", `actForShopper: ${saysWhat(this.profile.name, played)}`);
    return null;
  }

  async #outcome(method: ProfileMethod, instrument: ProfileInstrument) {
    await this.#played(method, instrument, instrument.case, instrument.answer);
    if (instrument.fail)
      await this.#played(method, instrument, `${instrument.case}, failed`, instrument.fail);
  }

  async #played(
    method: ProfileMethod,
    instrument: ProfileInstrument,
    title: string,
    answer: string | undefined,
  ) {
    const what = `Outcome ${title}`;
    const order = this.#order(method, instrument);
    const made = await this.#made(what, order, answer);
    if (!made) return;
    let read: PaymentReading | null = null;
    const wanted = expectedOf(instrument.case, answer !== undefined && answer === instrument.fail);
    await this.#until(async () => {
      const answered = await this.#ask<PaymentReading>("read", { ref: made.ref });
      read = answered.kind === "answered" ? answered.value : null;
      return read !== null && (wanted.states.length === 0 || wanted.states.includes(this.#stateOf(read)));
    });
    const seen = read as PaymentReading | null;
    if (!seen) return this.#hold(what, false, "", "It could not be read back: does “read” fit?");
    const state = this.#stateOf(seen);
    const same =
      seen.reference === order.reference && seen.amount === order.amount && seen.currency === order.currency;
    if (!same)
      return this.#hold(
        what,
        false,
        "",
        `It was read back as ${decimalText(seen)} ${seen.currency} for ${seen.reference}, and asked for as ${decimalText(order)} ${order.currency} for ${order.reference}.`,
      );
    if (!Object.hasOwn(this.profile.statuses, seen.status))
      return this.#hold(what, false, "", `The provider's word “${seen.status}” is not in “statuses”.`);
    if (wanted.states.length > 0 && !wanted.states.includes(state))
      return this.#hold(
        what,
        false,
        "",
        `It is ${stateWords(state)} (“${seen.status}”); it should be ${wanted.states.map(stateWords).join(" or ")}.`,
      );
    const reason =
      seen.declineCode && Object.hasOwn(this.profile.declines, seen.declineCode)
        ? this.profile.declines[seen.declineCode]
        : undefined;
    if (wanted.reason && reason !== wanted.reason)
      return this.#hold(
        what,
        false,
        "",
        `The code “${seen.declineCode ?? "none"}” means ${reason ?? "nothing"} in “declines”; this case is ${wanted.reason}.`,
      );
    if (
      this.#hears &&
      !(await this.#until(async () =>
        (await this.#messages()).some(
          (one) => one.verdict === "verified" && one.body.includes(order.reference),
        ),
      ))
    )
      return this.#hold(what, false, "", "No believed message about it arrived.");
    this.#say(what, true, `${stateWords(state)}${reason ? `, ${reason}` : ""}.`);
  }

  async #operations(method: ProfileMethod, approved: ProfileInstrument) {
    const { operations } = this.profile;
    const half = (amount: number) => Math.floor(amount / 2);
    const paid = async (what: string, change: Record<string, unknown> = {}) => {
      const order = this.#order(method, approved, change);
      return { order, made: await this.#made(what, order, approved.answer) };
    };
    const expect = async (
      what: string,
      answer: GatewayAnswer<PaymentReading>,
      state: PaymentState,
      sums: Partial<PaymentReading>,
    ) => {
      if (answer.kind !== "answered") return this.#hold(what, false, "", saysWhat(this.profile.name, answer));
      const found = this.#stateOf(answer.value);
      const off = Object.entries(sums).filter(
        ([name, sum]) => answer.value[name as keyof PaymentReading] !== sum,
      );
      await this.#hold(
        what,
        found === state && off.length === 0,
        `${stateWords(found)}.`,
        found !== state
          ? `It is ${stateWords(found)}; it should be ${stateWords(state)}.`
          : off
              .map(
                ([name, sum]) =>
                  `${name} is ${String(answer.value[name as keyof PaymentReading])} and should be ${String(sum)}`,
              )
              .join("; "),
      );
    };
    if (operations.create?.idempotent) {
      const order = this.#order(method, approved);
      const [first, second] = [
        await this.#ask<PaymentReading>("create", order),
        await this.#ask<PaymentReading>("create", order),
      ];
      const once =
        first.kind === "answered" && second.kind === "answered" && first.value.ref === second.value.ref;
      await this.#hold(
        "create, asked twice",
        once,
        "One payment.",
        "The same idempotency key made two payments, or the second was refused; “idempotent” is not true.",
      );
    }
    if (operations.find) {
      const { order, made } = await paid("find");
      const found = made && (await this.#ask<Payments>("find", { reference: order.reference }));
      const ok =
        found?.kind === "answered" &&
        found.value.payments.length === 1 &&
        found.value.payments[0]?.ref === made?.ref;
      if (made)
        await this.#hold(
          "find",
          ok,
          "Found by our reference, once.",
          found?.kind === "answered"
            ? `${found.value.payments.length} were found; is “response” the list, and does the address carry the reference?`
            : "It was not answered.",
        );
      const none = await this.#ask<Payments>("find", { reference: "conform-nobody" });
      const empty =
        (none.kind === "answered" && none.value.payments.length === 0) ||
        (none.kind === "refused" && none.problem.kind === "not-found");
      await this.#hold(
        "find, nothing there",
        empty,
        "Nothing was found.",
        "A reference that nobody used finds something, or is refused otherwise than as not-found.",
      );
    }
    if (operations.list) {
      const list = await this.#ask<Payments>("list", {});
      await this.#hold(
        "list",
        list.kind === "answered" && list.value.payments.length > 0,
        "Payments are listed.",
        list.kind === "answered" ? "The list is empty." : saysWhat(this.profile.name, list),
      );
    }
    const missing = await this.#ask<PaymentReading>("read", { ref: "conform-nobody" });
    await this.#hold(
      "read, nothing there",
      missing.kind === "refused" && missing.problem.kind === "not-found",
      "Refused as not found.",
      missing.kind === "refused"
        ? `It is refused as ${missing.problem.kind} (${missing.problem.code}); “problems” should say not-found.`
        : "Something was read.",
    );
    const later = method.capture.includes("later");
    const step = (
      order: { amount: number; currency: string },
      made: PaymentReading,
      name: string,
      amount: number,
    ) => ({
      ref: made.ref,
      amount,
      currency: order.currency,
      idempotencyKey: `${name}-${made.ref}`.slice(0, 60),
    });
    if (later && operations.capture) {
      const { order, made } = await paid("capture", { capture: "later" });
      if (made) {
        await this.#hold(
          "create, captured later",
          this.#stateOf(made) === "authorised" || approved.answer === undefined,
          "Held.",
          `It is ${stateWords(this.#stateOf(made))}; it should be authorised.`,
        );
        await expect(
          "capture",
          await this.#ask("capture", step(order, made, "capture", order.amount)),
          "captured",
          { captured: order.amount },
        );
      }
    }
    if (later && method.void && operations.void) {
      const { order, made } = await paid("void", { capture: "later" });
      if (made)
        await expect("void", await this.#ask("void", step(order, made, "void", order.amount)), "voided", {});
    }
    if (method.refund && operations.refund) {
      const { order, made } = await paid("refund", { capture: "at-once" });
      if (made) {
        const input = step(order, made, "refund", order.amount);
        await expect("refund", await this.#ask("refund", input), "refunded", { refunded: order.amount });
        if (operations.refund.idempotent)
          await expect("refund, asked twice", await this.#ask("refund", input), "refunded", {
            refunded: order.amount,
          });
      }
    }
    if (method.partialRefund && operations.refund) {
      const { order, made } = await paid("refund in part", { capture: "at-once" });
      if (made) {
        await expect(
          "refund in part",
          await this.#ask("refund", step(order, made, "part", half(order.amount))),
          "partly-refunded",
          { refunded: half(order.amount) },
        );
        const tooMuch = await this.#ask<PaymentReading>("refund", step(order, made, "more", order.amount));
        await this.#hold(
          "refund beyond what was taken",
          tooMuch.kind === "refused" && tooMuch.problem.kind !== "provider-fault",
          "Refused.",
          "It was not refused, or with a code that “problems” does not know.",
        );
      }
    }
  }
}

/** The states a case may end in, and the reason it must be declined for. An unknown case only has to end. */
function expectedOf(id: string, failed: boolean): { states: PaymentState[]; reason?: DeclineReason } {
  if (id === "challenge" && failed) return { states: ["declined"], reason: "authentication-failed" };
  if (id === "challenge" || id.startsWith("approved")) return { states: ["captured", "authorised"] };
  if (id === "processing-error") return { states: ["failed"] };
  const reason = declineReasons.find((one) => one === id);
  return reason ? { states: ["declined"], reason } : { states: [] };
}
