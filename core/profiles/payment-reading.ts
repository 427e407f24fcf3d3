import { isCurrency } from "../money/currencies";
import { type Said, said } from "../said";
import { amountOf } from "./amount";
import {
  type AttemptReading,
  type AuthorisationReading,
  type DisputeReading,
  LONGEST_LIST,
  type MovementReading,
  type PaymentReading,
} from "./answers";
import { evaluate, ProfileError } from "./expressions";
import { instantOf } from "./instant";
import type { Profile } from "./profile";

type Raw = Record<string, unknown>;

/** One object as an expression made it, with what may be taken of it. Every reader throws `reading-malformed`. */
class Fields {
  constructor(
    readonly profile: Profile,
    readonly raw: Raw,
    readonly currency: string,
    /** Where it stands, such as `refunds[0].`; empty for the payment itself. */
    readonly at = "",
  ) {}

  refuse(what: Said): never {
    throw new ProfileError(
      "reading-malformed",
      said("response.does-not-fit", { provider: this.profile.name, what }),
    );
  }

  text(name: string): string {
    const value = this.raw[name];
    if (typeof value === "number" && Number.isSafeInteger(value)) return String(value);
    if (typeof value !== "string" || value === "" || value.length > MOST_TEXT)
      return this.refuse(said("response.lacks", { name: this.at + name }));
    return value;
  }

  /** A text under its own name, or nothing. */
  maybe<N extends string>(name: N): Partial<Record<N, string>> {
    const value = this.raw[name];
    return (
      typeof value === "string" && value !== "" ? { [name]: value.slice(0, MOST_TEXT) } : {}
    ) as Partial<Record<N, string>>;
  }

  amount(name: string, currency = this.currency): number {
    const value = this.raw[name] ?? 0;
    const amount = amountOf(value, currency, this.profile.amounts);
    return (
      amount ??
      this.refuse(
        said("response.no-amount", { value: JSON.stringify(value), name: this.at + name, currency }),
      )
    );
  }

  /** An instant under its own name, or nothing. */
  instant<N extends string>(name: N): Partial<Record<N, number>> {
    const value = this.raw[name];
    if (value === undefined || value === null) return {};
    const instant = instantOf(value);
    if (Number.isNaN(instant)) this.refuse(said("response.no-time", { name: this.at + name }));
    return { [name]: instant } as Partial<Record<N, number>>;
  }

  /** A list under its own name, each of its objects read; nothing where the expression gives none. */
  list<N extends string, T>(name: N, read: (fields: Fields) => T): Partial<Record<N, T[]>> {
    const value = this.raw[name];
    if (value === undefined || value === null) return {};
    const list = Array.isArray(value) ? value : [value];
    if (list.length > LONGEST_LIST) this.refuse(said("response.lacks", { name: this.at + name }));
    return {
      [name]: list.map((one, i) => {
        if (typeof one !== "object" || one === null)
          return this.refuse(said("response.lacks", { name: `${this.at}${name}[${i}]` }));
        return read(new Fields(this.profile, one as Raw, this.currency, `${this.at}${name}[${i}].`));
      }),
    } as Partial<Record<N, T[]>>;
  }
}

const MOST_TEXT = 2_000;

/** Reads one payment as the provider writes it. Throws `reading-malformed` when the profile does not fit it. */
export async function paymentReading(profile: Profile, payment: unknown): Promise<PaymentReading> {
  const read = (await evaluate(profile.payment ?? "$", payment)) as Raw | undefined;
  const whole = new Fields(profile, read ?? {}, "");
  if (typeof read !== "object" || read === null) return whole.refuse(said("response.holds-no-payment"));
  const { currency } = read;
  if (!isCurrency(currency)) return whole.refuse(said("response.names-no-currency-iso"));
  const fields = new Fields(profile, read, currency);
  return {
    ref: fields.text("ref"),
    reference: fields.text("reference"),
    currency,
    status: fields.text("status"),
    ...sequenceOf(fields),
    amount: fields.amount("amount"),
    authorised: fields.amount("authorised"),
    captured: fields.amount("captured"),
    ...(read.released !== undefined && { released: fields.amount("released") }),
    refunded: fields.amount("refunded"),
    ...fields.maybe("declineCode"),
    ...fields.maybe("text"),
    ...fields.maybe("challenge"),
    ...fields.maybe("code"),
    ...fields.maybe("instrument"),
    ...fields.list("attempts", attempt),
    ...fields.list("authorisations", authorisation),
    ...fields.list("captures", movement),
    ...fields.list("releases", movement),
    ...fields.list("refunds", movement),
    ...fields.list("disputes", dispute),
    ...fields.list("reviews", (one) => ({ id: one.text("id"), state: one.text("state") })),
    ...fields.list("fees", fee),
  };
}

/** A count as it is, or the time of the last change. */
function sequenceOf(fields: Fields): { sequence?: number } {
  const { sequence } = fields.raw;
  if (sequence === undefined || sequence === null) return {};
  if (typeof sequence === "number" && Number.isSafeInteger(sequence)) return { sequence };
  if (typeof sequence === "string" && /^\d{1,15}$/.test(sequence)) return { sequence: Number(sequence) };
  return fields.instant("sequence");
}

const attempt = (one: Fields): AttemptReading => ({
  id: one.text("id"),
  status: one.text("status"),
  ...one.maybe("declineCode"),
  ...one.maybe("text"),
});

const authorisation = (one: Fields): AuthorisationReading => ({
  id: one.text("id"),
  amount: one.amount("amount"),
  ...one.instant("until"),
  ended: one.raw.ended === true,
});

const movement = (one: Fields): MovementReading => ({
  id: one.text("id"),
  amount: one.amount("amount"),
  state: one.text("state"),
});

const dispute = (one: Fields): DisputeReading => ({
  id: one.text("id"),
  stage: typeof one.raw.stage === "number" && Number.isSafeInteger(one.raw.stage) ? one.raw.stage : 1,
  amount: one.amount("amount"),
  state: one.text("state"),
  ...one.maybe("reason"),
  ...one.instant("due"),
});

function fee(one: Fields) {
  const { currency = one.currency } = one.raw;
  if (!isCurrency(currency)) return one.refuse(said("response.names-no-currency-iso"));
  return { id: one.text("id"), amount: one.amount("amount", currency), currency };
}
