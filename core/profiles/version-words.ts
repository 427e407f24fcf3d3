import { type Said, said } from "../said";
import { decimalText } from "../money/money";
import { isCurrency } from "../money/currencies";
import { operationWords } from "./plain-words";
import type { OperationName, Profile, ProfileField, ProfileMethod } from "./profile";

/** What differs between two versions of a profile, in words for somebody who decides whether to take the newer one up. */
export function versionWords(before: Profile, after: Profile): Said[] {
  return [
    ...fieldWords(before.fields, after.fields),
    ...methodWords(before.methods, after.methods),
    ...operationChanges(before, after),
    ...addressWords(before, after),
    ...messageWords(before, after),
    ...Object.entries(rest).flatMap(([key, says]) =>
      same(before[key as keyof Profile], after[key as keyof Profile]) ? [] : [says],
    ),
  ];
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** What is told of by one sentence, whatever of it is another. Everything else has words of its own above, or tells nothing. */
const rest: Record<
  Exclude<
    keyof Profile,
    "schema" | "id" | "version" | "fields" | "methods" | "operations" | "modes" | "webhooks"
  >,
  Said
> = {
  name: said("version-words.provider-called-otherwise"),
  about: said("version-words.what-said-about-provider"),
  merchantCountries: said("version-words.countries-whose-merchants-takes"),
  sole: said("version-words.what-must-serve-alone"),
  ridesOn: said("version-words.what-rides-changed"),
  needsHttps: said("version-words.where-wants-shop-reached"),
  fees: said("version-words.fees-changed"),
  payout: said("version-words.when-or-where-pays"),
  atHand: said("version-words.what-hand-changed"),
  amounts: said("version-words.amounts-written-another-way"),
  format: said("version-words.requests-or-answers-written"),
  authentication: said("version-words.asked-keys-another-way"),
  link: said("version-words.linking-works-another-way"),
  payment: said("version-words.payments-read-another-way"),
  problem: said("version-words.refusals-read-another-way"),
  problems: said("version-words.what-refusals-mean-changed"),
  blames: said("version-words.key-refusal-points-changed"),
  statuses: said("version-words.what-states-payments-mean"),
  movements: said("version-words.what-captures-refunds-mean"),
  disputes: said("version-words.what-disputes-mean"),
  reviews: said("version-words.what-fraud-checks-mean"),
  authentications: said("version-words.what-authentication-means"),
  payouts: said("version-words.what-payouts-mean"),
  entries: said("version-words.what-payout-entries-mean"),
  declines: said("version-words.what-reasons-declining-mean"),
  review: said("version-words.how-review-account-read"),
  rights: said("version-words.rights-tried-changed"),
  file: said("version-words.domain-file-changed"),
  locales: said("version-words.languages-its-pages-speak"),
  browser: said("version-words.what-shoppers-meet-when"),
  instruments: said("version-words.test-instruments-changed"),
  plays: said("version-words.what-sandbox-plays-changed"),
  exponents: said("version-words.decimals-of-currencies"),
  sessions: said("version-words.how-purchases-agreed"),
};

function fieldWords(before: readonly ProfileField[], after: readonly ProfileField[]): Said[] {
  const was = new Map(before.map((field) => [field.id, field]));
  const is = new Map(after.map((field) => [field.id, field]));
  return [
    ...after
      .filter((field) => !was.has(field.id))
      .map((field) => said("version-words.asks-one-more-value", { label: field.label })),
    ...before
      .filter((field) => !is.has(field.id))
      .map((field) => said("version-words.no-longer-asks", { label: field.label })),
    ...after.flatMap((field) => {
      const old = was.get(field.id);
      if (!old || same(old, field)) return [];
      if (old.label !== field.label)
        return [said("version-words.called-now", { was: old.label, is: field.label })];
      return same(old.pattern, field.pattern)
        ? [said("version-words.what-said-about-changed", { label: field.label })]
        : [said("version-words.what-value-looks-like", { label: field.label })];
    }),
  ];
}

const limitWords = (
  limit: "least" | "greatest",
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
    return [said("version-words.limit", { name, limit, was: text(was), is: text(is) })];
  });

const listWords = (what: Said, name: string | Said, before: readonly string[], after: readonly string[]) => {
  const gone = before.filter((one) => !after.includes(one));
  const added = after.filter((one) => !before.includes(one));
  return [
    ...(added.length > 0 ? [said("version-words.gained", { name, what, values: added })] : []),
    ...(gone.length > 0 ? [said("version-words.lost", { name, what, values: gone })] : []),
  ];
};

const abilities = [
  ...(["partialCapture", "void", "refund", "partialRefund"] as const),
  ...(["keeps", "repeats", "verifies", "capturedByCall"] as const),
];

function methodWords(before: readonly ProfileMethod[], after: readonly ProfileMethod[]): Said[] {
  const was = new Map(before.map((method) => [method.id, method]));
  const is = new Set(after.map((method) => method.id));
  return [
    ...after
      .filter((method) => !was.has(method.id))
      .map((method) => said("version-words.one-more-method", { name: method.name })),
    ...before
      .filter((method) => !is.has(method.id))
      .map((method) => said("version-words.no-longer-method", { name: method.name })),
    ...after.flatMap((method) => {
      const old = was.get(method.id);
      return old ? changedMethod(old, method) : [];
    }),
  ];
}

function changedMethod(old: ProfileMethod, method: ProfileMethod): Said[] {
  const { name } = method;
  const told = [
    ...listWords(said("version-words.currencies"), name, old.currencies, method.currencies),
    ...listWords(said("version-words.card-networks"), name, old.networks, method.networks),
    ...listWords(
      said("version-words.shoppers-countries"),
      name,
      old.shopperCountries,
      method.shopperCountries,
    ),
    ...limitWords("least", name, old.minimum, method.minimum),
    ...limitWords("greatest", name, old.maximum, method.maximum),
    ...listWords(said("version-words.ways-capture"), name, old.capture, method.capture),
    ...listWords(said("version-words.ways-authenticate"), name, old.authentication, method.authentication),
    ...abilities.flatMap((key) =>
      old[key] === method[key]
        ? []
        : [said("version-words.ability", { name, is: method[key] ? "yes" : "no", ability: key })],
    ),
  ];
  return told.length > 0 || same(old, method) ? told : [said("version-words.method-changed", { name })];
}

const allOperations: Record<OperationName, Said> = {
  ...operationWords,
  account: said("version-words.tell-about-account"),
  fieldCheck: said("version-words.tell-whose-second-key"),
  read: said("version-words.tell-about-payment"),
  find: said("version-words.find-payment-our-reference"),
  listWebhooks: said("version-words.list-webhooks"),
  removeWebhook: said("version-words.remove-webhook"),
  pingWebhook: said("version-words.send-test-message"),
  linkedKeys: said("version-words.hand-over-linked-keys"),
  readPayout: said("version-words.tell-about-payout"),
  readSession: said("version-words.tell-about-session"),
  actInSession: said("version-words.play-session"),
};

function operationChanges(before: Profile, after: Profile): Said[] {
  const names = new Set([
    ...Object.keys(before.operations),
    ...Object.keys(after.operations),
  ]) as Set<OperationName>;
  return [...names].flatMap((name) => {
    const [was, is] = [before.operations[name], after.operations[name]];
    const words = allOperations[name];
    if (!was) return [said("version-words.can-now", { words })];
    if (!is) return [said("version-words.can-no-longer", { words })];
    return same(was, is) ? [] : [said("version-words.way-asked-changed", { words })];
  });
}

const addressWords = (before: Profile, after: Profile): Said[] =>
  (["test", "live"] as const).flatMap((mode) =>
    (["api", "token", "jwks", "authorize", "dashboard"] as const).flatMap((key) => {
      const [was, is] = [before.modes[mode][key], after.modes[mode][key]];
      return was === is
        ? []
        : [said("version-words.address", { mode, key, was: was ?? "none", is: is ?? "none" })];
    }),
  );

function messageWords({ webhooks: was }: Profile, { webhooks: is }: Profile): Said[] {
  if (!was && !is) return [];
  if (!was) return [said("version-words.sends-messages-now")];
  if (!is) return [said("version-words.sends-no-messages-any")];
  const { events: heard, signing: signed, ...read } = was;
  const { events, signing, ...reads } = is;
  return [
    ...listWords(said("version-words.what-listened"), said("version-words.messages"), heard, events),
    ...(same(signed, signing) ? [] : [said("version-words.messages-believed-another-signature")]),
    ...(same(read, reads) ? [] : [said("version-words.messages-read-another-way")]),
  ];
}
