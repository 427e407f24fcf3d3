import * as yup from "yup";
import { type KeepScope, keepScopes } from "../instruments";
import { isCountry } from "../places/codes";
import { isCurrency } from "../money/currencies";
import type { Money } from "../money/money";
import { paymentStates, type PaymentState } from "../payments/facts";
import type { StageMap } from "../payments/stages";
import { readAs } from "../validated";
import { type Problem, type Reading, type Said, said } from "../said";
import type { ProfileMethod } from "../profiles/profile";
import { isTelling, type ToldPart, type Telling, tellingProblems } from "../profiles/telling";
import type { AuthenticationPolicy } from "../profiles/profile-types";
import type { PictureRef } from "../looks/look";
import { type Afterwards, afterwardsProblems } from "./afterwards";
import { type Charge, chargeProblems, isCharge } from "./charge";
import { isOfferIcon, type OfferIcon } from "./icons";
import { type ButtonSettings, type ButtonTerms, isAllowed, isButton } from "../buttons/button";
import { areNoticePlaces, type NoticePlace } from "./notices";
import { type HoldBack, MOST_DAYS } from "./holding";
import { type OfflineKind } from "../ways/offline/kinds";
import { type OfflineTerms, readOfflineTerms } from "../ways/offline/terms";
import { isTimeZone, neverTogether, type Rules, ruleProblems, ruleSays } from "./rules";
import { isRepeats, type Repeats, repeatProblems } from "../subscriptions/plan";
import { defaultLabel } from "./defaults";
import { checkStatement, type StatementLimits } from "./statement";

export type CapturePolicy = "at-once" | "later";

/** Least and greatest order total, minor units; null where there is no limit. */
export interface Limit {
  least: number | null;
  greatest: number | null;
}

/** How an offer speaks to shoppers in one language. Without words of its own for them, the button says what it says anyway. */
export interface Wording {
  label: string;
  hint: string;
  /** What stands on the button that pays. */
  button?: string;
  /** What is said beyond the hint once the offer is chosen. */
  help?: string;
}

/** The sign beside an offer's name: one of ours, a picture of the shop's, or none. */
export type Sign = { icon: OfferIcon | "none" } | { picture: PictureRef };

/** What stands before and after the shop's order number where the provider is told it. */
export interface OrderNumberAffixes {
  before: string;
  after: string;
}

/** No order number is longer than this with what stands around it. */
export const LONGEST_ORDER_NUMBER = 80;

/** What one revision of an offer says. Empty `countries`, `currencies` or `groups` mean: all. */
export interface OfferDocument {
  wording: Record<string, Wording>;
  countries: string[];
  currencies: string[];
  limits: Record<string, Limit>;
  groups: string[];
  capture: CapturePolicy;
  authentication: AuthenticationPolicy;
  /** Up to which order total an exemption is asked for, minor units by currency; above it the issuer decides. */
  exemptUpTo?: Record<string, number>;
  /** After how many days what is held is captured by itself; none: by hand or by the shop's call. */
  captureAfterDays?: number;
  /** Which orders a person looks at before they are captured. */
  holdBack?: HoldBack;
  statement: string;
  stages: StageMap;
  /** What choosing it costs the shopper, or saves. */
  charge?: Charge;
  /** The sign beside its name; none said: the usual one of its kind. */
  sign?: Sign;
  orderNumber?: OrderNumberAffixes;
  /** What the provider is told beyond what it must be. */
  telling?: Telling;
  /** Whether shoppers whom the shop has signed in may keep what they pay with, and for where. */
  keeps?: KeepScope;
  /** To what shoppers can subscribe with it, and what becomes of a charge that is refused. */
  repeats?: Repeats;
  /** Where on the shop's own pages it is told what paying in parts would come to. */
  notices?: NoticePlace[];
  /** Of what the least and greatest totals are meant; not said: of all that is asked for. */
  limitsOf?: "goods";
  /** Where it stands as a button that pays at once; left out: nowhere. */
  button?: ButtonSettings;
  /** What the shop says after each outcome. */
  afterwards?: Afterwards;
  /** Under which further conditions it is shown; none: no further ones. */
  rules?: Rules;
  /** What it says where no provider moves the money. */
  offline?: OfflineTerms;
  /** Whether it is withheld by itself while its provider does not answer. */
  withheldInTrouble?: boolean;
}

/** What the storefront and the method allow an offer to say. */
export interface OfferTerms {
  storefrontName: string;
  languages: readonly string[];
  currencies: readonly string[];
  groups: readonly string[];
  stages: readonly string[];
  capture: readonly CapturePolicy[];
  authentication: readonly AuthenticationPolicy[];
  /** What the provider takes of a statement text, where that is less than is usual. */
  statement?: StatementLimits;
  /** Ids of the zones that rules may name. */
  zones?: readonly string[];
  /** What the method cannot do without. */
  needs?: readonly ToldPart[];
  /** Whether the storefront takes fees for choosing a way of paying. */
  fees?: boolean;
  /** Whether the method can keep what was paid with. */
  keeps?: boolean;
  /** Whether the method can be charged without the shopper. */
  repeats?: boolean;
  /** Whether it takes a payment of nothing, by which a shopper agrees to be charged later. */
  verifies?: boolean;
  /** Whether the provider quotes what paying in parts comes to. */
  quotes?: boolean;
  /** What the provider allows of a button, where it has one. */
  button?: ButtonTerms;
  /** What kind of offer without a provider it is. */
  offline?: OfflineKind;
}

const minor = yup.number().strict().integer().min(0).max(Number.MAX_SAFE_INTEGER).nullable().defined();
const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);
const record = (test: (value: Record<string, unknown>) => boolean) =>
  yup
    .mixed<Record<string, unknown>>()
    .required()
    .test("record", (value) => isObject(value) && test(value));

const areAmounts = (value: unknown) =>
  isObject(value) && Object.values(value).every((one) => Number.isSafeInteger(one) && (one as number) >= 0);

const isHoldBack = (value: unknown) => {
  const { from, countries } = (typeof value === "object" && value !== null ? value : {}) as Partial<HoldBack>;
  return (
    areAmounts(from) && Array.isArray(countries) && countries.length <= 260 && countries.every(isCountry)
  );
};

const wording = yup.object({
  label: yup.string().strict().trim().min(1).max(60).required(),
  hint: yup.string().strict().max(160).defined(),
  button: yup.string().strict().trim().min(1).max(40),
  help: yup.string().strict().trim().min(1).max(600),
});

const isSign = (value: unknown) => {
  if (!isObject(value)) return false;
  const { icon, picture } = value as { icon?: unknown; picture?: Partial<PictureRef> | null };
  if (picture === undefined) return icon === "none" || isOfferIcon(icon);
  return (
    icon === undefined &&
    /^[0-9a-f]{64}$/.test(String(picture?.id)) &&
    [picture?.width, picture?.height].every((one) => Number.isSafeInteger(one) && (one as number) > 0)
  );
};

// Printable ASCII without spaces, as a shop's own order numbers are.
const isAffix = (value: unknown) => typeof value === "string" && /^[\x21-\x7e]{0,12}$/.test(value);
const isAffixes = (value: unknown) => isObject(value) && isAffix(value.before) && isAffix(value.after);

const unlessLeftOut = (name: string, holds: (value: unknown) => boolean) =>
  yup.mixed().test(name, (value) => value === undefined || holds(value));

const limit = yup.object({ least: minor, greatest: minor });

const schema = yup
  .object({
    wording: record((value) => Object.values(value).every((one) => wording.isValidSync(one))),
    countries: yup
      .array(
        yup
          .string()
          .strict()
          .test("country", (value) => isCountry(value ?? ""))
          .required(),
      )
      .max(260)
      .required(),
    currencies: yup.array(yup.string().strict().required()).required(),
    limits: record((value) => Object.values(value).every((one) => limit.isValidSync(one))),
    groups: yup.array(yup.string().strict().max(40).required()).required(),
    capture: yup.string().oneOf(["at-once", "later"]).required(),
    authentication: yup.string().oneOf(["issuer", "always", "exemption"]).required(),
    captureAfterDays: yup.number().strict().integer().min(1).max(MOST_DAYS),
    holdBack: unlessLeftOut("hold-back", isHoldBack),
    exemptUpTo: unlessLeftOut("amounts", areAmounts),
    charge: unlessLeftOut("charge", isCharge),
    sign: unlessLeftOut("sign", isSign),
    orderNumber: unlessLeftOut("affixes", isAffixes),
    telling: unlessLeftOut("telling", isTelling),
    notices: unlessLeftOut("notices", areNoticePlaces),
    button: unlessLeftOut("button", isButton),
    keeps: unlessLeftOut("keeps", (value) => keepScopes.some((one) => one === value)),
    repeats: unlessLeftOut("repeats", isRepeats),
    limitsOf: unlessLeftOut("limits-of", (value) => value === "goods"),
    statement: yup.string().strict().max(200).defined(),
    withheldInTrouble: yup.boolean().strict(),
    stages: record((value) =>
      Object.entries(value).every(
        ([k, v]) => paymentStates.includes(k as PaymentState) && typeof v === "string",
      ),
    ),
  })
  .required();

/** Reads an offer's document as it comes from a form, against what storefront and method allow. */
export function readOffer(input: unknown, terms: OfferTerms): Reading<OfferDocument> {
  const shaped = readAs(schema, input);
  if (!shaped.ok) return shaped;
  const problems: Problem[] = [];
  const refuse = (path: string, told: Said) => problems.push({ path, ...told });
  const document = input as OfferDocument;
  const outside = (path: "currencies" | "groups", allowed: readonly string[]) => {
    for (const one of document[path])
      if (!allowed.includes(one)) refuse(path, said("offer.not-of-storefront", { value: one, what: path }));
  };
  outside("currencies", terms.currencies);
  outside("groups", terms.groups);
  for (const [currency, { least, greatest }] of Object.entries(document.limits)) {
    if (!isCurrency(currency)) refuse("limits", said("offer.not-currency", { currency }));
    else if (least !== null && greatest !== null && least > greatest) {
      refuse(`limits.${currency}`, said("offer.least-total-above-greatest"));
    }
  }
  for (const language of Object.keys(document.wording)) {
    if (!terms.languages.includes(language))
      refuse("wording", said("offer.not-language-storefront", { language }));
  }
  if (document.captureAfterDays !== undefined && document.capture !== "later")
    refuse("captureAfterDays", said("offer.captured-at-once"));
  if (document.holdBack && !terms.capture.includes("later"))
    refuse("holdBack", said("offer.cannot-hold-back"));
  for (const currency of Object.keys(document.holdBack?.from ?? {}))
    if (!isCurrency(currency)) refuse("holdBack", said("offer.not-currency", { currency }));
  if (!terms.capture.includes(document.capture)) refuse("capture", said("offer.method-cannot-capture-way"));
  // Where nobody is asked apart, as with most wallets, the policy says nothing.
  if (terms.authentication.length > 0 && !terms.authentication.includes(document.authentication)) {
    refuse("authentication", said("offer.method-cannot-authenticate-way"));
  }
  for (const currency of Object.keys(document.exemptUpTo ?? {}))
    if (!isCurrency(currency)) refuse("exemptUpTo", said("offer.not-currency", { currency }));
  if (document.charge) {
    const least = (currency: string) => document.limits[currency]?.least ?? null;
    problems.push(...chargeProblems(document.charge, { fees: terms.fees ?? false, least }));
  }
  if (document.keeps && !terms.keeps) refuse("keeps", said("offer.keeps-nothing"));
  if (document.repeats)
    problems.push(
      ...repeatProblems(document.repeats, {
        ...{ repeats: terms.repeats ?? false, verifies: terms.verifies ?? false },
        ...{ languages: terms.languages, currencies: terms.currencies, isTimeZone },
      }),
    );
  if (document.notices && !terms.quotes) refuse("notices", said("offer.quotes-nothing"));
  if (document.button && !(terms.button && isAllowed(document.button, terms.button)))
    refuse("button", said("offer.no-such-button"));
  if (document.telling) problems.push(...tellingProblems(document.telling, terms.needs && [...terms.needs]));
  if (document.afterwards) problems.push(...afterwardsProblems(document.afterwards, terms.languages));
  for (const [state, stage] of Object.entries(document.stages)) {
    if (!terms.stages.includes(stage))
      refuse(`stages.${state}`, said("offer.shop-not-declared-stage", { stage }));
  }
  for (const finding of checkStatement(document.statement, terms.storefrontName, terms.statement)) {
    if (finding.blocking) refuse("statement", finding.says);
  }
  if (document.rules !== undefined) {
    problems.push(...ruleProblems(document.rules, terms.zones ?? []));
    const contrary = problems.length === 0 ? neverTogether(document.rules) : null;
    if (contrary) {
      const [one, other] = contrary.map((rule) => ruleSays(rule, []));
      refuse("rules", said("rules.never", { one: one ?? "", other: other ?? "" }));
    }
  }
  const { offline: given, ...rest } = document;
  if (!terms.offline) return problems.length > 0 ? { ok: false, problems } : { ok: true, value: rest };
  const offline = readOfflineTerms(given, terms.languages);
  if (!offline.ok) return { ok: false, problems: [...problems, ...offline.problems] };
  return problems.length > 0
    ? { ok: false, problems }
    : { ok: true, value: { ...rest, offline: offline.value } };
}

/**
 * What a new offer starts from: its method's name in each language, no rules, capture at once, and of statement and
 * stages what can be proposed.
 */
export function blankOffer(
  method: Pick<ProfileMethod, "name" | "kind">,
  terms: OfferTerms,
  { statement = "", stages = {} }: Partial<Pick<OfferDocument, "statement" | "stages">> = {},
): OfferDocument {
  return {
    wording: Object.fromEntries(
      terms.languages.map((one) => [one, { label: defaultLabel(method.kind, method.name, one), hint: "" }]),
    ),
    countries: [],
    currencies: [],
    limits: {},
    groups: [],
    capture: terms.capture[0] ?? "at-once",
    authentication: terms.authentication[0] ?? "issuer",
    statement,
    stages,
  };
}

/** How an order is asked for: an exemption only up to the total that the offer names for its currency. */
export function authenticationFor(
  { authentication, exemptUpTo = {} }: Pick<OfferDocument, "authentication" | "exemptUpTo">,
  { amount, currency }: Money,
): AuthenticationPolicy {
  if (authentication !== "exemption") return authentication;
  return amount <= (exemptUpTo[currency] ?? -1) ? "exemption" : "issuer";
}

/** The shop's order number as the provider is told it. */
export const orderNumberFor = ({ orderNumber }: Pick<OfferDocument, "orderNumber">, number: string): string =>
  `${orderNumber?.before ?? ""}${number}${orderNumber?.after ?? ""}`.slice(0, LONGEST_ORDER_NUMBER);

/** The label by which the people of the shop know an offer; empty where it has none. */
export const offerLabel = (document: OfferDocument): string => wordingFor(document, "en").label;

/** Wording in the shopper's language, else in the storefront's first, else any. */
export function wordingFor(document: OfferDocument, language: string): Wording {
  const base = language.split("-")[0] ?? language;
  return (
    document.wording[language] ??
    document.wording[base] ??
    Object.values(document.wording)[0] ?? { label: "", hint: "" }
  );
}
