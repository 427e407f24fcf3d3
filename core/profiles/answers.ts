import { said } from "../said";
import * as yup from "yup";
import type { Registered } from "../connections/registrations";
import { validated } from "../validated";
import type { Liability } from "../payments/facts";
import { ProfileError } from "./expressions";
import { answersPayment, answersPayments, type OperationName, type Profile } from "./profile";

/**
 * A payment as a provider reports it. Amounts are minor units. A provider tells totals, or lists of objects with ids of
 * their own, which then take the place of the total; states are in the provider's own words.
 */
export interface PaymentReading {
  ref: string;
  reference: string;
  currency: string;
  amount: number;
  status: string;
  /** The provider's count of changes, or the time of the last one in milliseconds. */
  sequence?: number;
  authorised: number;
  captured: number;
  released?: number;
  refunded: number;
  declineCode?: string;
  text?: string;
  /** The provider's page on which the shopper goes on. */
  challenge?: string;
  /** What the shopper's browser posts there. */
  handOver?: Record<string, string>;
  /** What a shopper's phone scans. */
  code?: string;
  instrument?: string;
  attempts?: AttemptReading[];
  authorisations?: AuthorisationReading[];
  captures?: MovementReading[];
  releases?: MovementReading[];
  refunds?: MovementReading[];
  disputes?: DisputeReading[];
  reviews?: { id: string; state: string }[];
  authentications?: AuthenticationReading[];
  fees?: { id: string; amount: number; currency: string }[];
  /** What was paid with as it is kept for the next time: its id over there, its name, and when it ends (milliseconds). */
  kept?: KeptReading;
  /** The plan that the shopper agreed to, where it is paid back in parts. */
  instalments?: { payments: number; amount: number; total: number }[];
}

export interface KeptReading {
  id: string;
  name?: string;
  until?: number;
  /** The card network's reference of the payment in which its shopper agreed to be charged without being there. */
  networkReference?: string;
}

export interface AuthenticationReading {
  id: string;
  /** The provider's own word for what came of it. */
  result: string;
  liability?: Liability;
}

export interface AttemptReading {
  id: string;
  status: string;
  declineCode?: string;
  text?: string;
}

export interface AuthorisationReading {
  id: string;
  amount: number;
  /** When it ends, in milliseconds since the epoch; and whether it has. */
  until?: number;
  ended: boolean;
}

export interface MovementReading {
  id: string;
  amount: number;
  state: string;
}

export interface DisputeReading {
  id: string;
  stage: number;
  amount: number;
  state: string;
  reason?: string;
  due?: number;
}

export interface AccountReading {
  account: string;
  name: string;
  country: string;
  currencies: { charged: string; settled: string }[];
  mayCharge: boolean;
  because?: string;
  /** How far the provider's review has come, in the provider's own word; the profile says what it means. */
  review?: string;
  /** Methods of the profile, whether they are switched on over there, and for which card networks where it tells. */
  methods?: { id: string; on: boolean; networks?: string[]; where?: string }[];
}

/** What a device wallet says of a request: whether the shopper has decided, and the token where the answer was yes. */
export interface TokenReading {
  state: "waiting" | "given" | "refused";
  token?: string;
}

/**
 * What a shopper has agreed to at a wallet whose button they pressed: the one-time token that pays it, the sum in minor
 * units, and where it goes.
 */
export interface SessionReading {
  state: "open" | "agreed" | "over";
  token?: string;
  amount?: number;
  currency?: string;
  /** The id of the delivery that the shopper chose. */
  delivery?: string;
  address?: SessionAddress;
  contact?: { name?: string; email?: string; phone?: string };
}

/** Where something goes, as a wallet says it; lines only once the shopper has agreed. */
export interface SessionAddress {
  country: string;
  region?: string;
  postcode?: string;
  city?: string;
  lines?: string[];
}

/** What was paid out to the merchant, in the provider's own word for its state. An amount below nothing was taken. */
export interface PayoutReading {
  id: string;
  currency: string;
  amount: number;
  state: string;
  /** When it was paid, and when it is on the account, in milliseconds since the epoch. */
  at: number;
  arrives?: number;
}

/** One entry of a payout, minor units: `amount` of `currency` as the shopper paid it, `fee` and `net` of `settled`. */
export interface EntryReading {
  id: string;
  /** The provider's own word for what it is. */
  kind: string;
  /** The payment, by the provider's reference or by ours. */
  ref?: string;
  reference?: string;
  currency: string;
  amount: number;
  settled: string;
  fee: number;
  net: number;
  at?: number;
}

/** Where the page after this one begins; left out: this is the last. */
interface Page {
  next?: string;
}
export interface PayoutPage extends Page {
  payouts: PayoutReading[];
}
export interface PayoutEntries extends Page {
  entries: EntryReading[];
}

/** The payment that something told of by itself is about, by the provider's reference or by ours. */
export interface OfPayment {
  ref?: string;
  reference?: string;
  currency: string;
}
/** A dispute as a list of them or a message of its own tells it. */
export type ListedDispute = DisputeReading & OfPayment;
/** A refund as a message of its own tells it. */
export type ToldRefund = MovementReading & OfPayment;
export interface DisputePage extends Page {
  disputes: ListedDispute[];
}

/** One way to pay a sum in parts: so many payments of `amount`, which come to `total`; minor units. */
export interface Plan {
  payments: number;
  amount: number;
  total: number;
  /** The effective annual rate in percent, where the provider tells it. */
  rate?: number;
  /** How far the payments lie apart, and after how many days the first is due. */
  every?: PlanRhythm;
  firstAfter?: number;
}
export const planRhythms = ["week", "two-weeks", "month"] as const;
export type PlanRhythm = (typeof planRhythms)[number];

export interface Quote {
  currency: string;
  plans: Plan[];
  /** What the law wants to be read beside it, in the language that was asked for. */
  text?: string;
  /** For how many seconds it holds. */
  goodFor?: number;
}

/** What each operation's answer is, once it has been read. */
export interface Answers {
  account: AccountReading;
  fieldCheck: { account: string };
  create: PaymentReading;
  confirm: PaymentReading;
  read: PaymentReading;
  find: { payments: PaymentReading[] };
  list: { payments: PaymentReading[] };
  listPayouts: PayoutPage;
  readPayout: PayoutEntries;
  listDisputes: DisputePage;
  capture: PaymentReading;
  void: PaymentReading;
  release: PaymentReading;
  refund: PaymentReading;
  answerDispute: PaymentReading;
  acceptDispute: PaymentReading;
  decideReview: PaymentReading;
  quote: Quote;
  forget: object;
  registerWebhook: { id: string };
  listWebhooks: { webhooks: Registered[] };
  removeWebhook: object;
  pingWebhook: object;
  checkDomain: { ok: boolean; says: string };
  linkedKeys: Record<string, string>;
  requestToken: { ref: string; address: string };
  readToken: TokenReading;
  dropToken: object;
  openSession: { ref: string; address: string };
  readSession: SessionReading;
  actInSession: SessionReading;
  /** A payment, or of a device wallet what became of the request. */
  actForShopper: PaymentReading | TokenReading;
}

/** No list in an answer is read that is longer. */
export const LONGEST_LIST = 1_000;
/** Nor any file that has more rows. */
export const LONGEST_FILE = 20_000;

const text = () => yup.string().strict().min(1).max(2_000).required();
/** Expressions give null for what an answer does not hold. */
const perhaps = () => yup.string().strict().max(2_000).nullable();
const list = <T extends yup.Maybe<yup.AnyObject>>(of: yup.ISchema<T>) =>
  yup
    .array(of as yup.Schema<T>)
    .max(LONGEST_LIST)
    .required();
const done = yup.object().required();

const account = yup.object({
  account: text(),
  name: text(),
  country: text(),
  currencies: list(yup.object({ charged: text(), settled: text() }).required()),
  mayCharge: yup.boolean().strict().required(),
  because: perhaps(),
  review: perhaps(),
  methods: yup
    .array(
      yup.object({
        id: text(),
        on: yup.boolean().strict().required(),
        networks: yup.array(text()).max(LONGEST_LIST).nullable(),
        where: perhaps(),
      }),
    )
    .max(LONGEST_LIST)
    .nullable(),
});

const token = yup.object({
  state: yup.string().oneOf(["waiting", "given", "refused"]).required(),
  token: yup.string().strict().max(20_000).nullable(),
});

type Readable = Exclude<
  OperationName,
  | "readSession"
  | "actInSession"
  | "create"
  | "confirm"
  | "read"
  | "find"
  | "list"
  | "listPayouts"
  | "readPayout"
  | "listDisputes"
  | "capture"
  | "void"
  | "release"
  | "refund"
  | "answerDispute"
  | "acceptDispute"
  | "decideReview"
  | "quote"
>;

/** A reader for each shape of answer; those about payments are read by `payment` of the profile as well. */
const readers: Record<Readable, yup.Schema> = {
  account,
  fieldCheck: yup.object({ account: text() }),
  registerWebhook: yup.object({ id: text() }),
  listWebhooks: yup.object({
    webhooks: list(
      yup
        .object({ id: text(), address: text(), events: yup.array(text()).max(LONGEST_LIST).nullable() })
        .required(),
    ),
  }),
  forget: done,
  removeWebhook: done,
  pingWebhook: done,
  checkDomain: yup.object({ ok: yup.boolean().strict().required(), says: text() }),
  linkedKeys: yup
    .object()
    .required()
    .test("texts", "must hold texts", (value) =>
      Object.values(value).every((one) => typeof one === "string"),
    ),
  requestToken: yup.object({ ref: text(), address: text() }),
  readToken: token,
  dropToken: done,
  openSession: yup.object({ ref: text(), address: text() }),
  actForShopper: token,
};

/**
 * Reads what an operation's `response` made of an answer that is not about payments. Throws `reading-malformed` with
 * the place, when the mapping leaves out something or gives it another type.
 */
export function readAnswer(profile: Profile, name: OperationName, value: unknown): unknown {
  if (answersPayment(profile, name) || answersPayments.has(name))
    throw new Error(`${name} is read as payments`);
  try {
    return withoutNulls(validated(readers[name as Readable], value));
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    const [first] = error.inner.length > 0 ? error.inner : [error];
    const path = first?.path ? `operations.${name}.response → ${first.path}` : `operations.${name}.response`;
    throw new ProfileError(
      "reading-malformed",
      said("answers.does-not-fit", { provider: profile.name, path, error: first?.errors[0] ?? "" }),
    );
  }
}

/** What an expression gave as null was not there. */
function withoutNulls(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(withoutNulls);
  if (typeof value !== "object" || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).flatMap(([key, one]) => (one === null ? [] : [[key, withoutNulls(one)]])),
  );
}
