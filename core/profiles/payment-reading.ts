import { isCurrency } from "../money/currencies";
import { said } from "../said";
import {
  type AttemptReading,
  type AuthenticationReading,
  type AuthorisationReading,
  type KeptReading,
  type PaymentReading,
} from "./answers";
import type { Liability } from "../payments/facts";
import { evaluate } from "./expressions";
import { disputeReading, movementReading } from "./object-reading";
import { Fields, type Raw } from "./fields";
import type { Profile } from "./profile";

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
    ...fields.texts("handOver"),
    ...fields.maybe("code"),
    ...fields.maybe("instrument"),
    ...fields.list("attempts", attempt),
    ...fields.list("authorisations", authorisation),
    ...fields.list("captures", (one) => movementReading(one)),
    ...fields.list("releases", (one) => movementReading(one)),
    ...fields.list("refunds", (one) => movementReading(one)),
    ...fields.list("disputes", (one) => disputeReading(one)),
    ...fields.list("reviews", (one) => ({ id: one.text("id"), state: one.text("state") })),
    ...fields.list("authentications", authentication),
    ...fields.list("fees", fee),
    ...fields.list("instalments", instalments),
    ...keptOf(profile, read, currency),
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

function authentication(one: Fields): AuthenticationReading {
  const { liability } = one.raw;
  const bears = liability === undefined || liability === null ? {} : { liability };
  if (bears.liability !== undefined && bears.liability !== "issuer" && bears.liability !== "shop")
    return one.refuse(
      said("response.liability-of-nobody", { liability: String(bears.liability).slice(0, 40) }),
    );
  return { id: one.text("id"), result: one.text("result"), ...(bears as { liability?: Liability }) };
}

function keptOf(profile: Profile, { kept }: Raw, currency: string): Pick<PaymentReading, "kept"> {
  if (typeof kept !== "object" || kept === null) return {};
  return { kept: keptReading(new Fields(profile, kept as Raw, currency, "kept.")) };
}

/** Something that is kept: its id over there, its name, and when it ends. */
export const keptReading = (fields: Fields): KeptReading => ({
  id: fields.text("id"),
  ...fields.maybe("name"),
  ...fields.instant("until"),
  ...fields.maybe("networkReference"),
});

function instalments(one: Fields) {
  const { payments } = one.raw;
  if (!Number.isSafeInteger(payments) || Number(payments) < 1)
    return one.refuse(said("response.lacks", { name: `${one.at}payments` }));
  return { payments: Number(payments), amount: one.amount("amount"), total: one.amount("total") };
}

function fee(one: Fields) {
  const currency = one.currencyCode();
  return { id: one.text("id"), amount: one.amount("amount", currency), currency };
}
