import type { DeclineReason } from "../payments/facts";
import type { Mode } from "../mode";

export const methodKinds = [
  "card",
  "account-wallet",
  "code-wallet",
  "device-wallet",
  "instalments",
  "direct-debit",
] as const;
export type MethodKind = (typeof methodKinds)[number];

/** One way to pay that a provider offers. Minimums and maximums are minor units by currency. */
export interface ProfileMethod {
  id: string;
  kind: MethodKind;
  name: string;
  /** What shoppers call it, for searching. */
  synonyms: string[];
  networks: string[];
  /** Ids of wallets of other providers that this method also takes, so that a wallet can be had by two roads. */
  carries: string[];
  /** Ids of device wallets of other providers whose one-time tokens `create` takes. */
  takes?: string[];
  currencies: string[];
  /** Countries whose shoppers can use it; empty: any. */
  shopperCountries: string[];
  minimum: Record<string, number>;
  maximum: Record<string, number>;
  capture: ("at-once" | "later")[];
  authentication: ("issuer" | "always")[];
  partialCapture: boolean;
  void: boolean;
  refund: boolean;
  partialRefund: boolean;
}

/** A share of the amount in percent and a sum in minor units by currency. */
export interface Rate {
  percent: number;
  fixed: Record<string, number>;
}

/** What a method costs. Amounts are minor units by currency; percents are of the order's total. */
export interface MethodFees extends Rate {
  method: string;
  /** Least and greatest fee for one payment. */
  minimum: Record<string, number>;
  cap: Record<string, number>;
  /** Added for cards issued outside the provider's home region. */
  foreign: Rate;
  /** Percent added when the account settles in another currency. */
  conversion: number;
  /** `from` is the month's volume in minor units from which this rate holds for the whole volume beyond it. */
  tiers: (Rate & { from: Record<string, number> })[];
  /** What a refund and a dispute cost, and whether the payment's own fee (not its surcharges) comes back with a full refund. */
  refund: Record<string, number>;
  refundReturnsFee: boolean;
  dispute: Record<string, number>;
}

export interface FeeSchedule {
  monthly: Record<string, number>;
  oneOff: Record<string, number>;
  methods: MethodFees[];
}

/** A value that the provider issues and the administrator carries across. */
export interface ProfileField {
  id: string;
  label: string;
  where: string;
  /** The page it stands on over there. */
  place?: Record<Mode, string>;
  secret: boolean;
  shownOnce: boolean;
  pattern: Record<Mode, string>;
  lookalikes: { pattern: string; says: string }[];
  /** `call`: a call proves it. `webhook`: only a signed message can. */
  provenBy: "call" | "webhook";
}

/** A request to build. `path` is a template, `body` and `headers` are JSONata over the operation's input. */
export interface ProfileRequest {
  method: "GET" | "POST" | "PUT" | "PATCH" | "DELETE";
  path: string;
  headers?: Record<string, string>;
  body?: string;
}

export interface ProfileOperation {
  request: ProfileRequest;
  /** JSONata over the provider's answer. For payments it leads to them; otherwise it gives the operation's shape. */
  response: string;
  /** Whether repeating it is safe because the provider recognises the idempotency key. */
  idempotent?: boolean;
  /** Ids of the fields that a good answer proves. */
  proves?: string[];
  modes?: Mode[];
}

export const operationNames = [
  "account",
  "fieldCheck",
  "create",
  "read",
  "find",
  "capture",
  "void",
  "refund",
  "list",
  "registerWebhook",
  "listWebhooks",
  "removeWebhook",
  "pingWebhook",
  "checkDomain",
  "linkedKeys",
  "requestToken",
  "readToken",
  "dropToken",
  "actForShopper",
] as const;
export type OperationName = (typeof operationNames)[number];

const onePayment: ReadonlySet<OperationName> = new Set([
  "create",
  "read",
  "capture",
  "void",
  "refund",
  "actForShopper",
]);
/** Operations whose answer is a list of payments. */
export const answersPayments: ReadonlySet<OperationName> = new Set(["find", "list"]);

/** What went wrong at a provider, in our words. */
export const problemKinds = [
  "key-missing",
  "key-refused",
  "key-of-other-mode",
  "key-of-other-account",
  "access-withdrawn",
  "not-permitted",
  "not-found",
  "currency-unknown",
  "amount-too-small",
  "amount-too-large",
  "beyond-authorised",
  "beyond-captured",
  "wrong-state",
  "token-refused",
  "account-closed",
  "malformed",
  "provider-fault",
] as const;
export type ProblemKind = (typeof problemKinds)[number];

export const readingKinds = [
  "pending",
  "authorised",
  "captured",
  "voided",
  "declined",
  "failed",
  "expired",
  "cancelled",
  "refunded",
  "disputed",
] as const;
export type ReadingKind = (typeof readingKinds)[number];

/** How far a provider's review of the account has come. */
export const accountStates = ["applied", "in-review", "approved", "declined", "restricted"] as const;
export type AccountState = (typeof accountStates)[number];

/**
 * A test instrument: what a person types, and what takes the shopper's place. `token` goes into the order to pay;
 * `answer` and `fail` are what `actForShopper` says afterwards when the shopper goes on, or fails to.
 */
export interface ProfileInstrument {
  case: string;
  label: string;
  outcome: string;
  type: { label: string; value: string }[];
  token?: string;
  answer?: string;
  fail?: string;
}

/** How a keyed digest is made: which fields in which order, written how, and in which encoding. */
export interface DigestSpec {
  algorithm: "hmac-sha256" | "hmac-sha512";
  fields: "sorted" | string[];
  write: "values" | "pairs";
  join: string;
  encoding: "hex" | "base64" | "base64url";
}

type OpenHeaders = { headers?: Record<string, string> };
/** How a request shows whose it is. Names are ids of fields. */
export type Authentication = OpenHeaders &
  (
    | { scheme: "bearer"; secret: string }
    | { scheme: "basic"; user: string; secret: string }
    | { scheme: "header"; header: string; secret: string }
    | { scheme: "oauth2-client-credentials"; client: string; secret: string; scope?: string }
    | { scheme: "keyed-digest"; secret: string; digest: DigestSpec; into: string }
  );

/** How a webhook is signed. `key` and `secret` are ids of fields; without one, Zahlung makes the secret. */
export type Signing = { toleranceSeconds: number } & (
  | { scheme: "standard-webhooks"; secret?: string }
  | {
      scheme: "http-message-signature";
      algorithm: "ed25519" | "hmac-sha256";
      key: string;
      /** Components that must be covered; RFC 9421 names. */
      components: string[];
      idHeader: string;
    }
  | { scheme: "detached-jws"; header: string; algorithms: ("ES256" | "EdDSA" | "RS256" | "PS256")[] }
  | { scheme: "keyed-digest"; secret: string; digest: DigestSpec; from: string; id: string; time: string }
);

export type EventKind = "payment" | "ping" | "account";

export interface ProfileWebhooks {
  signing: Signing;
  format: "json" | "form";
  byHand: string[];
  place?: Record<Mode, string>;
  events: string[];
  /** JSONata over the message: its kind, when it happened, and the payment it is about. */
  kind: string;
  kinds: Record<string, EventKind>;
  at: string;
  payment: string;
}

/** Linking an account by OAuth 2.0 authorisation code with PKCE (RFC 6749, RFC 7636). */
export interface ProfileLink {
  client: string;
  scope: string;
  /** Error codes of the provider, in words, beside those of RFC 6749. */
  denied: Record<string, string>;
}

/** A file that proves the shop's domain to a device wallet. */
export interface ProfileFile {
  name: string;
  path: Record<Mode, string>;
  /** What the file's text must look like. */
  pattern: Record<Mode, string>;
  where: string;
  place?: Record<Mode, string>;
}

/** A question put to the provider only to see whether the key may ask it. */
export interface ProfileRight {
  id: string;
  label: string;
  why: string;
  operation: OperationName;
  with: Record<string, string | number>;
}

export interface ProfileSide {
  api: string;
  dashboard: string;
  /** Where tokens are fetched, where keys for verifying stand, where a person agrees to a link. */
  token?: string;
  jwks?: string;
  authorize?: string;
}

export type ProfileBrowser =
  | {
      kind: "frame";
      address: Record<Mode, string>;
      message: { match: Record<string, string>; token: string };
    }
  | { kind: "redirect" }
  | { kind: "code" }
  | { kind: "device" };

/** The document that teaches Zahlung one provider. */
export interface Profile {
  schema: 1;
  id: string;
  version: string;
  name: string;
  about: string;
  merchantCountries: string[];
  methods: ProfileMethod[];
  /** Kinds of method that only one connection may serve on a storefront in one currency. */
  sole: MethodKind[];
  /** The kind of connection that this provider's method needs to ride on. */
  ridesOn?: MethodKind;
  /** Modes in which the storefront has to be reached by https. */
  needsHttps: Mode[];
  fees: FeeSchedule;
  payout: { to: "bank-account" | "balance"; days: number; says: string };
  atHand: string[];
  amounts: "minor" | "decimal";
  format: { request: "json" | "form"; response: "json" | "form" };
  fields: ProfileField[];
  modes: Record<Mode, ProfileSide>;
  authentication: Authentication;
  link?: ProfileLink;
  operations: Partial<Record<OperationName, ProfileOperation>>;
  /** JSONata over one payment as the provider writes it. */
  payment?: string;
  /** `when`: JSONata that says whether an answer with a good HTTP status is a refusal all the same. */
  problem: { when?: string; code: string; text: string };
  /** The field that a problem's code points at; without one, it is the secret of the authentication. */
  blames: Record<string, string>;
  problems: Record<string, ProblemKind>;
  statuses: Record<string, ReadingKind>;
  declines: Record<string, DeclineReason>;
  /** How one applies for an account, the provider's states in ours, and what can be done meanwhile. */
  review?: { apply: string; states: Record<string, AccountState>; meanwhile: string };
  rights: ProfileRight[];
  webhooks?: ProfileWebhooks;
  file?: ProfileFile;
  browser: ProfileBrowser;
  instruments: ProfileInstrument[];
}

/** Whether a provider moves no money itself but hands a token to a connection that it rides on. */
export const ridesAlong = (profile: Pick<Profile, "ridesOn" | "operations">): boolean =>
  profile.ridesOn !== undefined && profile.operations.requestToken !== undefined;

/** Whether its methods can be offered: it takes payments itself, or rides on a connection that does. */
export const takesPayments = (profile: Pick<Profile, "ridesOn" | "operations">): boolean =>
  profile.operations.create !== undefined || ridesAlong(profile);

/** Whether an operation's answer is one payment. What a rider's shopper does leads to a token, not to a payment. */
export const answersPayment = (profile: Profile, name: OperationName): boolean =>
  onePayment.has(name) && !(name === "actForShopper" && ridesAlong(profile));

export const methodOf = (profile: Profile, id: string) => profile.methods.find((method) => method.id === id);
export const fieldOf = (profile: Profile, id: string) => profile.fields.find((field) => field.id === id);

const originOf = (address: string) => new URL(address.replace(/[{}]/g, "")).origin;
const originsOf = (addresses: readonly (string | undefined)[]) => [
  ...new Set(addresses.flatMap((one) => (one ? [originOf(one)] : []))),
];

/** Origins that a profile makes browsers embed, for the content security policy. */
export const frameOrigins = ({ browser }: Profile): string[] =>
  browser.kind === "frame" ? originsOf(Object.values(browser.address)) : [];

/** Origins that Zahlung itself calls. */
export const calledOrigins = ({ modes }: Profile): string[] =>
  originsOf(Object.values(modes).flatMap(({ api, token, jwks }) => [api, token, jwks]));

/** Every origin of the provider that the profile names: calls, dashboards, pages to agree on and frames. */
export const knownOrigins = (profile: Profile): string[] => [
  ...new Set([
    ...calledOrigins(profile),
    ...originsOf(Object.values(profile.modes).flatMap(({ dashboard, authorize }) => [dashboard, authorize])),
    ...frameOrigins(profile),
  ]),
];

/** Whether a call alone can prove this field. */
export const provenByCall = (field: ProfileField) => field.provenBy === "call";
