import { decimalText } from "../money/money";
import { isCurrency } from "../money/currencies";
import { operationWords } from "./plain-words";
import type { OperationName, Profile, ProfileField, ProfileMethod } from "./profile";

/** What differs between two versions of a profile, in words for somebody who decides whether to take the newer one up. */
export function versionWords(before: Profile, after: Profile): string[] {
  return [
    ...fieldWords(before.fields, after.fields),
    ...methodWords(before.methods, after.methods),
    ...operationChanges(before, after),
    ...addressWords(before, after),
    ...messageWords(before, after),
    ...rest.flatMap(([key, says]) => (same(before[key], after[key]) ? [] : [says])),
  ];
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** What has no words of its own for each value in it. */
const rest: [key: keyof Profile, says: string][] = [
  ["name", "The provider is called otherwise."],
  ["about", "What is said about the provider changed."],
  ["merchantCountries", "The countries whose merchants it takes changed."],
  ["sole", "What it must serve alone changed."],
  ["ridesOn", "What it rides on changed."],
  ["needsHttps", "Where it wants the shop reached by https changed."],
  ["fees", "Its fees changed."],
  ["payout", "When or where it pays out changed."],
  ["atHand", "What to have at hand changed."],
  ["amounts", "Amounts are written another way."],
  ["format", "Requests or answers are written another way."],
  ["authentication", "It is asked with its keys in another way."],
  ["link", "Linking works another way."],
  ["payment", "Its payments are read another way."],
  ["problem", "Its refusals are read another way."],
  ["problems", "What its refusals mean changed."],
  ["blames", "Which key a refusal points at changed."],
  ["statuses", "What the states of its payments mean changed."],
  ["declines", "What its reasons for declining mean changed."],
  ["review", "How its review of the account is read changed."],
  ["rights", "The rights that are tried changed."],
  ["file", "The domain file changed."],
  ["browser", "What shoppers meet when they pay changed."],
  ["instruments", "Its test instruments changed."],
];

function fieldWords(before: readonly ProfileField[], after: readonly ProfileField[]): string[] {
  const was = new Map(before.map((field) => [field.id, field]));
  const is = new Map(after.map((field) => [field.id, field]));
  return [
    ...after
      .filter((field) => !was.has(field.id))
      .map((field) => `It asks for one more value: ${field.label}.`),
    ...before.filter((field) => !is.has(field.id)).map((field) => `It no longer asks for ${field.label}.`),
    ...after.flatMap((field) => {
      const old = was.get(field.id);
      if (!old || same(old, field)) return [];
      if (old.label !== field.label) return [`“${old.label}” is called “${field.label}” now.`];
      return same(old.pattern, field.pattern)
        ? [`What is said about ${field.label} changed.`]
        : [`What a value of ${field.label} looks like changed.`];
    }),
  ];
}

const limitWords = (
  what: string,
  name: string,
  before: Record<string, number>,
  after: Record<string, number>,
) =>
  [...new Set([...Object.keys(before), ...Object.keys(after)])].flatMap((currency) => {
    const [was, is] = [before[currency], after[currency]];
    if (was === is) return [];
    const text = (amount: number | undefined) =>
      amount === undefined
        ? "none"
        : `${isCurrency(currency) ? decimalText({ amount, currency }) : amount} ${currency}`;
    return [`${name}: its ${what} was ${text(was)} and is ${text(is)}.`];
  });

const listWords = (what: string, name: string, before: readonly string[], after: readonly string[]) => {
  const gone = before.filter((one) => !after.includes(one));
  const added = after.filter((one) => !before.includes(one));
  return [
    ...(added.length > 0 ? [`${name}: ${what} gained ${added.join(", ")}.`] : []),
    ...(gone.length > 0 ? [`${name}: ${what} lost ${gone.join(", ")}.`] : []),
  ];
};

const abilities: [key: "partialCapture" | "void" | "refund" | "partialRefund", says: string][] = [
  ["partialCapture", "be captured in part"],
  ["void", "be voided"],
  ["refund", "be refunded"],
  ["partialRefund", "be refunded in part"],
];

function methodWords(before: readonly ProfileMethod[], after: readonly ProfileMethod[]): string[] {
  const was = new Map(before.map((method) => [method.id, method]));
  const is = new Set(after.map((method) => method.id));
  return [
    ...after
      .filter((method) => !was.has(method.id))
      .map((method) => `It has one more method: ${method.name}.`),
    ...before
      .filter((method) => !is.has(method.id))
      .map((method) => `It no longer has the method ${method.name}.`),
    ...after.flatMap((method) => {
      const old = was.get(method.id);
      return old ? changedMethod(old, method) : [];
    }),
  ];
}

function changedMethod(old: ProfileMethod, method: ProfileMethod): string[] {
  const { name } = method;
  const told = [
    ...listWords("its currencies", name, old.currencies, method.currencies),
    ...listWords("its card networks", name, old.networks, method.networks),
    ...listWords("its shoppers’ countries", name, old.shopperCountries, method.shopperCountries),
    ...limitWords("least amount", name, old.minimum, method.minimum),
    ...limitWords("greatest amount", name, old.maximum, method.maximum),
    ...listWords("its ways to capture", name, old.capture, method.capture),
    ...listWords("its ways to authenticate", name, old.authentication, method.authentication),
    ...abilities.flatMap(([key, says]) =>
      old[key] === method[key]
        ? []
        : [`${name}: its payments can ${method[key] ? "" : "no longer "}${says}.`],
    ),
  ];
  return told.length > 0 || same(old, method) ? told : [`${name}: what is said about it changed.`];
}

const otherOperations: Partial<Record<OperationName, string>> = {
  account: "tell about the account",
  fieldCheck: "tell whose a second key is",
  read: "tell about a payment",
  find: "find a payment by our reference",
  listWebhooks: "list its webhooks",
  removeWebhook: "remove a webhook",
  pingWebhook: "send a test message",
  linkedKeys: "hand over linked keys",
};

function operationChanges(before: Profile, after: Profile): string[] {
  const names = new Set([
    ...Object.keys(before.operations),
    ...Object.keys(after.operations),
  ]) as Set<OperationName>;
  return [...names].flatMap((name) => {
    const [was, is] = [before.operations[name], after.operations[name]];
    const words = operationWords[name] ?? otherOperations[name] ?? name;
    if (!was) return [`It can ${words} now.`];
    if (!is) return [`It can no longer ${words}.`];
    return same(was, is) ? [] : [`The way it is asked to ${words} changed.`];
  });
}

const addressWords = (before: Profile, after: Profile): string[] =>
  (["test", "live"] as const).flatMap((mode) =>
    (["api", "token", "jwks", "authorize", "dashboard"] as const).flatMap((key) => {
      const [was, is] = [before.modes[mode][key], after.modes[mode][key]];
      return was === is
        ? []
        : [
            `In ${mode}, its ${key === "api" ? "interface" : key} was at ${was ?? "nowhere"} and is at ${is ?? "nowhere"}.`,
          ];
    }),
  );

function messageWords({ webhooks: was }: Profile, { webhooks: is }: Profile): string[] {
  if (!was && !is) return [];
  if (!was) return ["It sends messages now."];
  if (!is) return ["It sends no messages any more."];
  const { events: heard, signing: signed, ...read } = was;
  const { events, signing, ...reads } = is;
  return [
    ...listWords("what is listened to", "Messages", heard, events),
    ...(same(signed, signing) ? [] : ["Its messages are believed by another signature."]),
    ...(same(read, reads) ? [] : ["Its messages are read another way."]),
  ];
}
