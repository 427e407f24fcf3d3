import { said } from "../said";
import { isCurrency } from "../money/currencies";
import type { Mode } from "../mode";
import type { Address } from "../places/address";
import { writtenAmount } from "./amount";
import { keyedDigest } from "./digest";
import { evaluate, ProfileError } from "./expressions";
import { beginsAt, pageAt } from "./paging";
import type { OperationName, Profile } from "./profile";
import type { ProfileOperation } from "./profile-types";
import type { FileKind } from "./rows";

/** The values of a connection's fields, by field id, in the clear. Lives only at the gateway's rim. */
export type Credentials = Readonly<Record<string, string>>;

export interface WireRequest {
  method: string;
  url: string;
  headers: Record<string, string>;
  body?: string;
}

/** What a request takes from its surroundings: milliseconds since the epoch, a text used once, an access token. */
export interface Surroundings {
  now: number;
  nonce: string;
  token?: string;
}

/** Fills `{name}` in an address with encoded values. Throws `field-missing`. */
export const fill = (template: string, values: Readonly<Record<string, unknown>>) =>
  template.replace(/\{([a-zA-Z-]+)\}/g, (_, name: string) => {
    const value = Object.hasOwn(values, name) ? values[name] : undefined;
    if (value === undefined || value === null)
      throw new ProfileError("field-missing", said("request.no-value", { name }));
    return encodeURIComponent(String(value));
  });

const basic = (user: string, password: string) =>
  `Basic ${Buffer.from(`${user}:${password}`).toString("base64")}`;

/**
 * Builds the HTTP request of an operation. The input's `amount` is minor units of its `currency`; expressions see it
 * as the profile writes amounts. Throws a `ProfileError`: `operation-missing`, `field-missing`, `expression-failed`.
 */
export async function buildRequest(
  profile: Profile,
  mode: Mode,
  name: OperationName,
  input: Readonly<Record<string, unknown>>,
  credentials: Credentials,
  around: Surroundings,
): Promise<WireRequest> {
  const operation = profile.operations[name];
  if (!operation || (operation.modes && !operation.modes.includes(mode)))
    throw new ProfileError(
      "operation-missing",
      said("request.no-address", { provider: profile.name, name, mode }),
    );
  const { request } = operation;
  const { paging } = operation;
  const scope = {
    ...scopeOf(profile, input, around),
    ...(paging && { after: beginsAt(paging, input.after) }),
    ...credentials,
  };
  const headers: Record<string, string> = {
    accept: takes(operation.answers, profile.format.response),
    ...authorization(profile, credentials, around),
  };
  for (const [header, source] of Object.entries({ ...profile.authentication.headers, ...request.headers }))
    headers[header.toLowerCase()] = String(await evaluate(source, scope));
  const wire: WireRequest = {
    method: request.method,
    url: addressOf(profile, mode, operation, scope, input.after),
    headers,
  };
  if (request.body === undefined) return wire;
  const body = await evaluate(request.body, scope);
  const { authentication } = profile;
  if (authentication.scheme !== "keyed-digest") return { ...wire, ...written(profile, headers, body) };
  const fields = texts(body);
  const digest = keyedDigest(credential(credentials, authentication.secret), fields, authentication.digest);
  return { ...wire, ...written(profile, headers, { ...fields, [authentication.into]: digest }) };
}

/** Files are asked for by their media type; a refusal comes as everything else does. */
const takes = (file: FileKind | undefined, response: "json" | "form"): string => {
  const usual = response === "form" ? "*/*" : "application/json";
  return file ? `${file === "csv" ? "text/csv" : "application/xml"}, ${usual};q=0.5` : usual;
};

function addressOf(
  profile: Profile,
  mode: Mode,
  { request, paging }: ProfileOperation,
  scope: Readonly<Record<string, unknown>>,
  after: unknown,
): string {
  const { api } = profile.modes[mode];
  const first = api + fill(request.path, scope);
  return paging?.by === "link" && typeof after === "string" && after !== ""
    ? pageAt(api, first, after)
    : first;
}

/** Words that stand for an account's own values where those must not be read, by field id. */
export const fieldsOfCredentials = ({ fields }: Profile): Credentials =>
  Object.fromEntries(fields.map(({ id, label }) => [id, `(${label})`]));

/** What an expression sees of an operation's input. */
export function scopeOf(
  profile: Profile,
  input: Readonly<Record<string, unknown>>,
  { now, nonce }: Surroundings,
): Record<string, unknown> {
  const { amount, currency, order } = input;
  const written = (sum: number) => (isCurrency(currency) ? writtenAmount(sum, currency, profile) : sum);
  return {
    ...input,
    ...(typeof amount === "number" && { amount: written(amount) }),
    ...(order !== undefined && { order: writtenOrder(order as OrderInScope, written) }),
    now: Math.floor(now / 1000),
    time: new Date(now).toISOString(),
    nonce,
  };
}

/** What is bought, as an expression sees it before its amounts are written. Minor units. */
export interface OrderInScope {
  number: string;
  lines: { name: string; quantity: number; unit: number; total: number }[];
  shipping: number;
  tax: number;
  taxIncluded: boolean;
  total: number;
  payNow: number;
  email: string;
  /** Left out where they are not to be told, or the shop does not say. */
  shipTo?: Address;
  billTo?: Address;
  /** Who the shopper is, in the shop's own words. */
  shopper?: string;
}

const writtenOrder = (order: OrderInScope, written: (sum: number) => number | string) => ({
  ...order,
  lines: order.lines.map((line) => ({ ...line, unit: written(line.unit), total: written(line.total) })),
  shipping: written(order.shipping),
  tax: written(order.tax),
  total: written(order.total),
  payNow: written(order.payNow),
});

function credential(credentials: Credentials, field: string): string {
  const value = Object.hasOwn(credentials, field) ? credentials[field] : undefined;
  if (value === undefined) throw new ProfileError("field-missing", said("request.missing", { field }));
  return value;
}

function authorization(
  { authentication: way }: Profile,
  credentials: Credentials,
  { token }: Surroundings,
): Record<string, string> {
  switch (way.scheme) {
    case "bearer":
      return { authorization: `Bearer ${credential(credentials, way.secret)}` };
    case "basic":
      return { authorization: basic(credential(credentials, way.user), credential(credentials, way.secret)) };
    case "header":
      return { [way.header.toLowerCase()]: credential(credentials, way.secret) };
    case "oauth2-client-credentials":
      if (token === undefined) throw new ProfileError("field-missing", said("request.access-token-missing"));
      return { authorization: `Bearer ${token}` };
    case "keyed-digest":
      credential(credentials, way.secret);
      return {};
  }
}

/** A flat object's values as texts; what is missing or null is left out. */
export const texts = (body: unknown): Record<string, string> =>
  Object.fromEntries(
    Object.entries((body ?? {}) as Record<string, unknown>)
      .filter(([, value]) => value !== null && value !== undefined)
      .map(([name, value]) => [name, typeof value === "object" ? JSON.stringify(value) : String(value)]),
  );

function written({ format }: Profile, headers: Record<string, string>, body: unknown) {
  return format.request === "form"
    ? {
        headers: { ...headers, "content-type": "application/x-www-form-urlencoded" },
        body: new URLSearchParams(texts(body)).toString(),
      }
    : { headers: { ...headers, "content-type": "application/json" }, body: JSON.stringify(body ?? {}) };
}

/** The address of the provider's card frame for one checkout; null where it has none. Throws `field-missing`. */
export function frameAddress(
  { browser }: Profile,
  mode: Mode,
  credentials: Credentials,
  page: { origin: string; language: string },
): string | null {
  return browser.kind === "frame" ? fill(browser.address[mode], { ...credentials, ...page }) : null;
}
