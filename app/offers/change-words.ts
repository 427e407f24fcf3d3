import { stateWords } from "#core/payments/facts";
import { isCurrency } from "#core/money/currencies";
import { moneyText } from "#core/money/money";
import { nameOfCode } from "#core/places/names";
import { rhythmUnits } from "#core/subscriptions/schedule";
import { rhythmWords } from "../subscriptions/words";
import { t } from "../words/pages/offers-changes";

const settings: Record<string, string> = {
  authentication: t("strong-authentication"),
  capture: t("capture"),
  captureAfterDays: t("captured-by-itself-after-days"),
  countries: t("shopper-countries"),
  currencies: t("currencies"),
  groups: t("shopper-groups"),
  limitsOf: t("least-and-greatest-total-are"),
  statement: t("statement-text"),
  withheldInTrouble: t("while-the-provider-does-not"),
};
const offline: Record<string, string> = {
  account: t("account-that-shoppers-transfer-to"),
  reference: t("what-shoppers-quote"),
  dueDays: t("days-until-it-is-due"),
  remindDays: t("days-overdue-until-a-reminder"),
  reminders: t("days-overdue-on-which-the"),
  expireDays: t("days-overdue-until-it-is"),
  phone: t("telephone-number-to-pay-to"),
  slip: t("proof-that-is-asked-for"),
};
const account: Record<string, string> = {
  holder: t("holder"),
  iban: t("iban"),
  bic: t("bic"),
  bank: t("bank"),
};
const plans: Record<string, string> = {
  names: t("name-within"),
  rhythm: t("how-often"),
  times: t("how-many-periods"),
  prices: t("price"),
  setUp: t("what-is-charged-once"),
  setUpNames: t("what-that-is-called"),
};
const trying: Record<string, string> = {
  tries: t("tried-again-on-days"),
  asks: t("the-shopper-is-asked-on"),
  ends: t("it-ends-after-days"),
};
const buttons: Record<string, string> = {
  places: t("where-it-stands"),
  label: t("what-it-says"),
  shape: t("shape"),
  size: t("size"),
  colour: "colour",
  lastLook: t("the-last-look"),
};
const telling: Record<string, string> = {
  lines: t("the-orders-lines-are-told"),
  email: t("the-shoppers-e-mail-address"),
  address: t("where-it-goes-and-from"),
  shopper: t("who-the-shopper-is-at"),
  brand: t("what-the-shop-is-called"),
};
const wordings: Record<string, string> = { hint: t("hint"), button: t("on-the-button"), help: t("help") };
const values: Record<string, Record<string, string>> = {
  authentication: {
    issuer: t("when-the-issuer-asks"),
    always: t("always"),
    exemption: t("an-exemption-is-asked-for"),
  },
  offline: { creditor: t("a-creditor-reference"), order: t("the-orders-number") },
  limitsOf: { goods: t("the-goods-alone") },
  charge: { fee: t("costs-more"), discount: t("costs-less") },
  sign: { none: t("none") },
  keeps: { storefront: t("for-this-storefront"), shop: t("for-all-of-the-shop") },
  capture: { "at-once": t("at-once"), later: t("later") },
  withheldInTrouble: { true: t("withheld-by-itself"), false: t("offered-all-the-same") },
};

/** A path in an offer's document as its editor names the field. */
export function settingWords(path: string): string {
  const [head = "", ...rest] = path.split(".");
  const [first = "", second, third = "", fourth, fifth] = rest;
  if (head === "stages") return t("order-stage-when-first", { state: stateWords(first) });
  if (head === "wording") return `${wordings[second ?? ""] ?? t("name")}, ${nameOfCode("language", first)}`;
  if (head === "charge")
    return first === "sums"
      ? t("what-choosing-it-costs-or", { currency: second ?? "" })
      : t("what-choosing-it-costs-or-saves");
  if (head === "orderNumber") return t("order-number-at-the-provider", { part: first });
  if (head === "telling")
    return first === "notes"
      ? t("told-as-second", { name: second ?? "" })
      : (telling[first] ?? t("what-the-provider-is-told"));
  if (head === "keeps") return t("whether-shoppers-may-keep-what");
  if (head === "repeats") {
    if (first === "timeZone") return t("time-zone-of-payments-that");
    if (first === "trying")
      return t("when-a-charge-is-refused", { trying: trying[second ?? ""] ?? t("what-is-done") });
    return t("plan-second-third", { plan: second ?? "", setting: planWords(third, fourth, fifth) });
  }
  if (head === "button") return t("button-that-pays-at-once", { buttons: buttons[first] ?? first });
  if (head === "notices") return t("where-instalments-are-told-of");
  if (head === "sign") return t("sign-beside-the-name");
  if (head === "afterwards")
    return t("said-when-second-first", {
      outcome: second ?? t("it-is-over"),
      language: nameOfCode("language", first),
    });
  if (head === "rules") return t("further-conditions");
  if (head === "offline" && first === "instructions")
    return t("instructions-second", { language: nameOfCode("language", second ?? "") });
  if (head === "offline" && first === "account" && second)
    return `${offline.account ?? ""}, ${account[second] ?? second}`;
  if (head === "offline") return offline[first] ?? t("without-a-provider");
  if (head === "holdBack")
    return first === "from"
      ? t("held-back-from-second", { currency: second ?? "" })
      : t("held-back-for-countries");
  if (head === "exemptUpTo") return t("an-exemption-is-asked-for-up", { currency: first });
  if (head === "limits")
    return t("greatest-order-total-in-first", { least: second === "least" ? "yes" : "no", currency: first });
  return settings[head] ?? path;
}

/** A part of a plan, with the currency or the language that it is in. */
function planWords(part: string, of = "", more = ""): string {
  if (part === "trial")
    return of === "days" ? t("days-of-the-trial") : t("price-of-the-trial-more", { more });
  if (part === "fixedDay") return of === "day" ? t("fixed-day-of-the-month") : t("the-part-before-the-fixed");
  if (part === "tax") return of === "share" ? t("tax") : t("the-tax-is-in-the");
  const name = plans[part] ?? part;
  if (of === "") return name;
  return `${name}, ${part === "names" || part === "setUpNames" ? nameOfCode("language", of) : of}`;
}

/** Parts of an offer that say amounts: minor units of the currency in their path. */
const AMOUNTS = ["holdBack", "charge", "limits", "exemptUpTo", "repeats"];
/** Parts that say shares, in hundredths of a percent. */
const isShare = (path: string) => path === "charge.share" || path.endsWith(".tax.share");

/** A value as the editor shows it: amounts as the storefront writes them, countries by name. */
export function valueWords(path: string, value: string, locale: string): string {
  const names = path.split(".");
  const [head = ""] = names;
  const currency = AMOUNTS.includes(head) ? names.find((name) => isCurrency(name)) : undefined;
  if (currency && /^\d{1,15}$/.test(value)) return moneyText({ amount: Number(value), currency }, locale);
  if (isShare(path)) return `${Number(value) / 100} %`;
  const known = head === "offline" && path !== "offline.reference" ? undefined : values[head]?.[value];
  if (known !== undefined) return known;
  if (value === "true" || value === "false") return value === "true" ? "yes" : "no";
  if (path === "countries" || path === "holdBack.countries")
    return value.replace(/\b[A-Z]{2}\b/g, (code) => nameOfCode("region", code));
  if (head === "sign" && names[1] === "picture") return t("a-picture-of-the-shops");
  const [, count, unit] = /^(\d+) (day|week|month)$/.exec(head === "repeats" ? value : "") ?? [];
  const rhythm = rhythmUnits.find((one) => one === unit);
  return rhythm ? rhythmWords({ count: Number(count), unit: rhythm }) : value;
}
