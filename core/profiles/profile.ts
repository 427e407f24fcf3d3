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

/** One way to pay that a provider offers. Minimums are minor units by currency. */
export interface ProfileMethod {
  id: string;
  kind: MethodKind;
  name: string;
  networks: string[];
  currencies: string[];
  minimum: Record<string, number>;
  capture: ("at-once" | "later")[];
  authentication: ("issuer" | "always")[];
  partialCapture: boolean;
  void: boolean;
  refund: boolean;
  partialRefund: boolean;
}

/** `percent` of the amount plus `fixed` minor units of the currency, where `when` (in words) holds. */
export interface ProfileFee {
  method: string;
  when: string;
  percent: number;
  fixed: Record<string, number>;
}

/** A value that the provider issues and the administrator carries across. */
export interface ProfileField {
  id: string;
  label: string;
  where: string;
  secret: boolean;
  shownOnce: boolean;
  pattern: Record<Mode, string>;
  lookalikes: { pattern: string; says: string }[];
}

/** A request to build. `path` is a template, `body` and `headers` are JSONata over the operation's input. */
export interface ProfileRequest {
  method: "GET" | "POST" | "PUT" | "DELETE";
  path: string;
  headers?: Record<string, string>;
  body?: string;
}

export interface ProfileOperation {
  request: ProfileRequest;
  /** JSONata over the provider's answer; the operation says what shape it must have. */
  response: string;
  /** Whether repeating it is safe because the provider recognises the idempotency key. */
  idempotent?: boolean;
  /** Ids of the fields that a good answer proves. */
  proves?: string[];
  modes?: Mode[];
}

export const operationNames = [
  "account",
  "frameKey",
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
  "answerChallenge",
] as const;
export type OperationName = (typeof operationNames)[number];

/** What went wrong at a provider, in our words. */
export const problemKinds = [
  "key-missing",
  "key-refused",
  "key-of-other-mode",
  "key-of-other-account",
  "not-permitted",
  "not-found",
  "currency-unknown",
  "amount-too-small",
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
  "refunded",
  "disputed",
] as const;
export type ReadingKind = (typeof readingKinds)[number];

export interface ProfileInstrument {
  case: string;
  label: string;
  outcome: string;
  type: { label: string; value: string }[];
  token: string;
}

/** The document that teaches Zahlung one provider. */
export interface Profile {
  schema: 1;
  id: string;
  version: string;
  name: string;
  about: string;
  merchantCountries: string[];
  methods: ProfileMethod[];
  fees: ProfileFee[];
  fields: ProfileField[];
  modes: Record<Mode, { api: string; dashboard: string }>;
  authentication: { scheme: "bearer"; field: string; headers: Record<string, string> };
  operations: Partial<Record<OperationName, ProfileOperation>>;
  problem: { code: string; text: string };
  problems: Record<string, ProblemKind>;
  statuses: Record<string, ReadingKind>;
  declines: Record<string, DeclineReason>;
  webhooks: {
    signing: { scheme: "standard-webhooks"; toleranceSeconds: number };
    byHand: string[];
    events: string[];
    kind: string;
    kinds: Record<string, "payment" | "ping">;
    at: string;
    payment: string;
  };
  browser: {
    kind: "frame";
    address: Record<Mode, string>;
    message: { match: Record<string, string>; token: string };
  };
  instruments: ProfileInstrument[];
}

/** Origins that a profile makes browsers embed, for the content security policy. */
export function frameOrigins(profile: Profile): string[] {
  return [
    ...new Set(Object.values(profile.browser.address).map((one) => new URL(one.replace(/[{}]/g, "")).origin)),
  ];
}

export const methodOf = (profile: Profile, id: string) => profile.methods.find((method) => method.id === id);
export const fieldOf = (profile: Profile, id: string) => profile.fields.find((field) => field.id === id);

/** Every origin of the provider that the profile names: calls, dashboards and frames. */
export function knownOrigins(profile: Profile): string[] {
  const addresses = [
    ...Object.values(profile.modes).flatMap(({ api, dashboard }) => [api, dashboard]),
    ...Object.values(profile.browser.address),
  ];
  return [...new Set(addresses.map((one) => new URL(one.replace(/[{}]/g, "")).origin))];
}
