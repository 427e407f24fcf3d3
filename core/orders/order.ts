import * as yup from "yup";
import { isCountry } from "../places/codes";
import { appSchemeOf } from "../storefronts/app-address";
import { isShopperId } from "../instruments";
import { isCurrency, minorDigits } from "../money/currencies";
import { parseDecimal } from "../money/money";
import { type Address, placeOf } from "../places/address";
import type { OrderOfSubscription } from "../subscriptions/agreed";
import { validated } from "../validated";

/**
 * One thing bought, or a discount, whose amounts are negative. Amounts in minor units of the order's currency; `total` =
 * `unit` × `quantity`, rounded to the minor unit where the quantity is no whole one.
 */
export interface OrderLine {
  name: string;
  /** Up to three decimals: 2.5 metres. */
  quantity: number;
  unit: number;
  total: number;
  /** The shop's own name for what kind of goods it is. */
  kind?: string;
}

/** An order as a shop hands it over, sums checked. All amounts are minor units of `currency`. */
export interface Order {
  reference: string;
  currency: string;
  lines: OrderLine[];
  shipping: number;
  tax: number;
  taxIncluded: boolean;
  total: number;
  /** What of the total is to be paid now, such as a deposit or the rest; left out: all of it. */
  payNow?: number;
  country: string;
  language: string;
  group: string;
  /** The shopper's; empty where the shop has none. */
  email: string;
  returnAddress: string;
  /** Where it goes and from where it is paid, as far as the shop says. */
  shipTo?: Address;
  billTo?: Address;
  /** The shop's own name for how it is delivered, and its weight in grams. */
  delivery?: string;
  weight?: number;
  /** Whether the shopper has ordered before. */
  returning?: boolean;
  /** Who the shopper is, in the shop's own words, where the shop has signed them in. */
  shopper?: string;
  /** Which subscription it is of, where Zahlung has made it. */
  subscription?: OrderOfSubscription;
}

/** A field of the shop's request that was refused: a JSON Pointer (RFC 6901) and words for a developer. */
export interface FieldProblem {
  pointer: string;
  code: string;
  detail: string;
}

export type OrderReading = { ok: true; order: Order } | { ok: false; problems: FieldProblem[] };

const MOST_LINES = 500;
/** No answer tells more complaints than these; whoever has mended them asks again. */
const MOST_PROBLEMS = 50;

const text = (max: number) => yup.string().strict().max(max).required();
const amountText = yup.string().strict().max(24).required();

const place = () =>
  yup
    .object({
      country: yup
        .string()
        .strict()
        .required()
        .test("country", "must be an ISO 3166-1 alpha-2 code", (value) => isCountry(value ?? "")),
      region: yup
        .string()
        .strict()
        .max(6)
        .matches(/^([A-Z]{2}-)?[0-9A-Z]{1,3}$/, "must be an ISO 3166-2 code"),
      postcode: yup.string().strict().min(1).max(12),
      name: yup.string().strict().min(1).max(120),
      lines: yup.array(yup.string().strict().min(1).max(120).required()).min(1).max(5).default(undefined),
      city: yup.string().strict().min(1).max(80),
    })
    .default(undefined);

const shape = yup.object({
  reference: text(64).matches(/^[\x21-\x7e]+$/, "may hold printable ASCII without spaces"),
  currency: text(3),
  lines: yup
    .array(
      yup.object({
        name: text(200),
        quantity: yup
          .number()
          .strict()
          .min(0.001)
          .max(100_000)
          .test("decimals", "may have three decimals", (value) => hasThreeDecimals(value ?? 0))
          .required(),
        unit: amountText,
        total: amountText,
        kind: yup.string().strict().min(1).max(60),
      }),
    )
    .min(1)
    .max(MOST_LINES)
    .required(),
  shipping: amountText,
  tax: amountText,
  taxIncluded: yup.boolean().strict(),
  total: amountText,
  payNow: yup.string().strict().max(24),
  country: text(2).test("country", "must be an ISO 3166-1 alpha-2 code", (value) => isCountry(value ?? "")),
  language: text(12).matches(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/, "must be a BCP 47 language tag"),
  group: text(40),
  email: yup.string().strict().max(254).email(),
  returnAddress: text(2000).url(),
  shipTo: place(),
  billTo: place(),
  delivery: yup.string().strict().min(1).max(60),
  weight: yup.number().strict().integer().min(0).max(100_000_000),
  returning: yup.boolean().strict(),
  shopper: yup
    .string()
    .strict()
    .test("shopper", "must be 1 to 64 printable ASCII characters without spaces", (value) =>
      value === undefined ? true : isShopperId(value),
    ),
});

const hasThreeDecimals = (value: number): boolean => Math.abs(value * 1000 - Math.round(value * 1000)) < 1e-6;

/** The local development address has no dot, which Yup's own URL pattern refuses. */
const addressShape = shape.shape({
  returnAddress: text(2000).test("url", "must be an http or https address, or one of an app", (value) =>
    isReturnAddress(value),
  ),
});

const isReturnAddress = (value: string): boolean =>
  (URL.canParse(value) && ["http:", "https:"].includes(new URL(value).protocol)) ||
  appSchemeOf(value) !== null;

/** `lines[0].unit` as Yup writes it → `/lines/0/unit` (RFC 6901). */
export const toPointer = (path: string) =>
  path === "" ? "" : "/" + path.replace(/\[(\d+)\]/g, ".$1").replace(/\./g, "/");

/** Every complaint of a Yup validation as a problem that names its field. */
export function fieldProblems(error: yup.ValidationError): FieldProblem[] {
  const each = error.inner.length > 0 ? error.inner : [error];
  return each.slice(0, MOST_PROBLEMS).map((one) => ({
    pointer: toPointer(one.path ?? ""),
    code: one.type === "required" || one.type === "optionality" ? "missing" : "malformed",
    detail: one.type === "typeError" ? wrongType(one) : (one.errors[0] ?? one.message),
  }));
}

const jsonTypes: Readonly<Record<string, string>> = {
  ...{
    string: "a string",
    number: "a number",
    boolean: "true or false",
    array: "a list",
    object: "an object",
  },
};
const jsonTypeOf = (value: unknown): string =>
  value === null ? "null" : (jsonTypes[Array.isArray(value) ? "array" : typeof value] ?? typeof value);

/** What type of value a field wants, and which it has; what it holds is not repeated. */
function wrongType({ path, params = {} }: yup.ValidationError): string {
  const wanted = jsonTypes[String(params.type)] ?? String(params.type);
  return `${path || "It"} must be ${wanted}, and is ${jsonTypeOf(params.originalValue ?? params.value)}`;
}

/**
 * Reads a shop's order (decimal text amounts) and checks that it adds up:
 * each line's unit × quantity = its total, and lines + shipping (+ tax, unless included) = total. Only lines may be negative.
 */
export function readOrder(input: unknown): OrderReading {
  let raw: yup.InferType<typeof addressShape>;
  try {
    raw = validated(addressShape, input, { stripUnknown: true, longest: MOST_LINES });
  } catch (error) {
    if (error instanceof yup.ValidationError) return { ok: false, problems: fieldProblems(error) };
    throw error;
  }
  if (!isCurrency(raw.currency)) {
    const detail = `${raw.currency} is not an ISO 4217 currency`;
    return { ok: false, problems: [{ pointer: "/currency", code: "unknown-currency", detail }] };
  }
  const problems: FieldProblem[] = [];
  const amount = (value: string, pointer: string, mayBeNegative = false): number => {
    const parsed = parseDecimal(value, raw.currency);
    if (parsed.ok && (parsed.money.amount >= 0 || mayBeNegative)) return parsed.money.amount;
    problems.push(amountProblem(pointer, value, raw.currency, parsed.ok ? "negative" : parsed.problem));
    return Number.NaN;
  };
  const lines = raw.lines.map((line, i) => ({
    name: line.name,
    quantity: line.quantity,
    unit: amount(line.unit, `/lines/${i}/unit`, true),
    total: amount(line.total, `/lines/${i}/total`, true),
    ...(line.kind !== undefined && { kind: line.kind }),
  }));
  const { payNow, shipTo, billTo, delivery, weight, returning, shopper, ...rest } = raw;
  const order: Order = {
    ...rest,
    ...(shipTo && { shipTo: given(shipTo) }),
    ...(billTo && { billTo: given(billTo) }),
    ...(delivery !== undefined && { delivery }),
    ...(weight !== undefined && { weight }),
    ...(returning !== undefined && { returning }),
    ...(shopper !== undefined && { shopper }),
    taxIncluded: raw.taxIncluded ?? true,
    email: raw.email ?? "",
    lines,
    shipping: amount(raw.shipping, "/shipping"),
    tax: amount(raw.tax, "/tax"),
    total: amount(raw.total, "/total"),
    ...(payNow !== undefined && { payNow: amount(payNow, "/payNow") }),
  };
  if (problems.length === 0) problems.push(...sumProblems(order));
  return problems.length > 0
    ? { ok: false, problems: problems.slice(0, MOST_PROBLEMS) }
    : { ok: true, order };
}

/** What is said of an address, and nothing of what is left out. */
const given = ({ name, lines, city, ...rest }: yup.InferType<ReturnType<typeof place>>): Address => ({
  ...placeOf(rest),
  ...(name !== undefined && { name }),
  ...(lines !== undefined && { lines }),
  ...(city !== undefined && { city }),
});

function amountProblem(pointer: string, value: string, currency: string, code: string): FieldProblem {
  const detail: Record<string, string> = {
    negative: "must not be negative",
    "too-many-decimals": `${value}: ${currency} has ${minorDigits(currency)} decimals`,
    "too-large": "is larger than can be counted exactly",
    "not-a-number": 'must be decimal text such as "12.30"',
  };
  return { pointer, code, detail: detail[code] ?? code };
}

function sumProblems(order: Order): FieldProblem[] {
  const problems: FieldProblem[] = [];
  const mismatch = (pointer: string, detail: string) =>
    problems.push({ pointer, code: "does-not-add-up", detail });
  order.lines.forEach((line, i) => {
    // Of a quantity that is no whole one, either rounding is taken.
    const off = Math.abs(line.unit * line.quantity - line.total);
    if (Number.isInteger(line.quantity) ? off !== 0 : off > 0.5 + 1e-6) {
      mismatch(`/lines/${i}/total`, `${line.quantity} × ${line.unit} is not ${line.total} (minor units)`);
    }
  });
  const goods = order.lines.reduce((sum, line) => sum + line.total, 0);
  const sum = goods + order.shipping + (order.taxIncluded ? 0 : order.tax);
  if (sum !== order.total) {
    mismatch("/total", `lines, shipping and tax make ${sum}, not ${order.total} (minor units)`);
  }
  if (order.total === 0) mismatch("/total", "an order of nothing needs no payment");
  if (order.payNow !== undefined && (order.payNow === 0 || order.payNow > order.total))
    mismatch("/payNow", "must be more than nothing and no more than the total");
  if (!Number.isSafeInteger(sum)) mismatch("/total", "is larger than can be counted exactly");
  return problems;
}
