import * as yup from "yup";
import { validated } from "../validated";
import { methodKinds, operationNames, problemKinds, type Profile, readingKinds } from "./profile";

const words = yup.string().strict().min(1).max(2000).required();
const strings = yup.array(words).required();
const flag = yup.boolean().strict().required();
const map = <T>(check: (value: unknown) => value is T) =>
  yup
    .mixed<Record<string, T>>(
      (value): value is Record<string, T> =>
        typeof value === "object" &&
        value !== null &&
        !Array.isArray(value) &&
        Object.values(value).every(check),
    )
    .required();
const isText = (value: unknown): value is string => typeof value === "string";
const isMinor = (value: unknown): value is number => Number.isSafeInteger(value) && (value as number) >= 0;
const oneOf =
  <T extends string>(list: readonly T[]) =>
  (value: unknown): value is T =>
    isText(value) && (list as readonly string[]).includes(value);
const bothModes = <T extends yup.AnyObject>(inner: yup.ObjectSchema<T>) =>
  yup.object({ test: inner, live: inner }).required();
const pattern = words.test("regexp", "is not a regular expression", (value) => {
  try {
    return Boolean(new RegExp(value));
  } catch {
    return false;
  }
});
const address = words.matches(/^https?:\/\//, "must be an http or https address");

const operation = yup.object({
  request: yup
    .object({
      method: yup.string().oneOf(["GET", "POST", "PUT", "DELETE"]).required(),
      path: words.matches(/^\//, "must begin with a slash"),
      headers: map(isText).optional(),
      body: yup.string().max(4000),
    })
    .required(),
  response: words.max(4000),
  idempotent: yup.boolean(),
  proves: yup.array(words),
  modes: yup.array(yup.string().oneOf(["test", "live"]).required()),
});

const schema = yup.object({
  schema: yup.number().oneOf([1]).required(),
  id: words.matches(/^[a-z][a-z0-9-]{1,40}$/, "must be a short lower-case name"),
  version: words.matches(/^\d+\.\d+\.\d+$/, "must be three numbers with points"),
  name: words.max(60),
  about: words,
  merchantCountries: strings,
  methods: yup
    .array(
      yup.object({
        id: words,
        kind: yup.string().oneOf(methodKinds).required(),
        name: words,
        networks: strings,
        currencies: strings,
        minimum: map(isMinor),
        capture: yup
          .array(yup.string().oneOf(["at-once", "later"]).required())
          .min(1)
          .required(),
        authentication: yup.array(yup.string().oneOf(["issuer", "always"]).required()).required(),
        partialCapture: flag,
        void: flag,
        refund: flag,
        partialRefund: flag,
      }),
    )
    .min(1)
    .required(),
  fees: yup
    .array(
      yup.object({
        method: words,
        when: words,
        percent: yup.number().min(0).max(100).required(),
        fixed: map(isMinor),
      }),
    )
    .required(),
  fields: yup
    .array(
      yup.object({
        id: words.matches(/^[a-z][a-z0-9-]*$/, "must be a lower-case name"),
        label: words,
        where: words,
        secret: flag,
        shownOnce: flag,
        pattern: yup.object({ test: pattern, live: pattern }).required(),
        lookalikes: yup.array(yup.object({ pattern, says: words })).required(),
      }),
    )
    .min(1)
    .required(),
  modes: bothModes(yup.object({ api: address, dashboard: address })),
  authentication: yup
    .object({ scheme: yup.string().oneOf(["bearer"]).required(), field: words, headers: map(isText) })
    .required(),
  operations: yup
    .object(Object.fromEntries(operationNames.map((name) => [name, operation.default(undefined)])))
    .required(),
  problem: yup.object({ code: words, text: words }).required(),
  problems: map(oneOf(problemKinds)),
  statuses: map(oneOf(readingKinds)),
  declines: map(isText),
  webhooks: yup
    .object({
      signing: yup
        .object({
          scheme: yup.string().oneOf(["standard-webhooks"]).required(),
          toleranceSeconds: yup.number().integer().min(1).max(3600).required(),
        })
        .required(),
      byHand: strings,
      events: strings,
      kind: words,
      kinds: map(oneOf(["payment", "ping"] as const)),
      at: words,
      payment: words,
    })
    .required(),
  browser: yup
    .object({
      kind: yup.string().oneOf(["frame"]).required(),
      address: yup.object({ test: address, live: address }).required(),
      message: yup.object({ match: map(isText), token: words }).required(),
    })
    .required(),
  instruments: yup
    .array(
      yup.object({
        case: words,
        label: words,
        outcome: words,
        type: yup.array(yup.object({ label: words, value: words })).required(),
        token: words,
      }),
    )
    .required(),
});

export type ProfileReading = { ok: true; profile: Profile } | { ok: false; problems: string[] };

/** Reads a profile document from parsed JSON, or says in words what is wrong with it and where. */
export function readProfile(document: unknown): ProfileReading {
  try {
    validated(schema, document);
    return { ok: true, profile: document as Profile };
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    const each = error.inner.length > 0 ? error.inner : [error];
    const says = each.map((one) => {
      const message = one.errors[0] ?? one.message;
      return one.path && !message.startsWith(one.path) ? `${one.path} ${message}` : message;
    });
    return { ok: false, problems: says };
  }
}
