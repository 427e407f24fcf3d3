import { stateWords } from "#core/payments/facts";
import { isCurrency } from "#core/money/currencies";
import { moneyText } from "#core/money/money";
import { nameOfCode } from "#core/places/names";
import { rhythmUnits } from "#core/subscriptions/schedule";
import { rhythmWords } from "../subscriptions/words";

const settings: Record<string, string> = {
  authentication: "Strong authentication",
  capture: "Capture",
  captureAfterDays: "Captured by itself after days",
  countries: "Shopper countries",
  currencies: "Currencies",
  groups: "Shopper groups",
  limitsOf: "Least and greatest total are of",
  statement: "Statement text",
  withheldInTrouble: "While the provider does not answer",
};
const offline: Record<string, string> = {
  account: "Account that shoppers transfer to",
  reference: "What shoppers quote",
  dueDays: "Days until it is due",
  remindDays: "Days overdue until a reminder",
  reminders: "Days overdue on which the shopper is reminded",
  expireDays: "Days overdue until it is given up",
  phone: "Telephone number to pay to",
  slip: "Proof that is asked for",
};
const account: Record<string, string> = { holder: "holder", iban: "IBAN", bic: "BIC", bank: "bank" };
const plans: Record<string, string> = {
  names: "name",
  rhythm: "how often",
  times: "how many periods",
  prices: "price",
  setUp: "what is charged once",
  setUpNames: "what that is called",
};
const trying: Record<string, string> = {
  tries: "tried again on days",
  asks: "the shopper is asked on days",
  ends: "it ends after days",
};
const buttons: Record<string, string> = {
  places: "where it stands",
  label: "what it says",
  shape: "shape",
  size: "size",
  colour: "colour",
  lastLook: "the last look",
};
const telling: Record<string, string> = {
  lines: "The order’s lines are told",
  email: "The shopper’s e-mail address is told",
  address: "Where it goes and from where it is paid is told",
  shopper: "Who the shopper is at the shop is told",
  brand: "What the shop is called on its pages",
};
const wordings: Record<string, string> = { hint: "Hint", button: "On the button", help: "Help" };
const values: Record<string, Record<string, string>> = {
  authentication: {
    issuer: "when the issuer asks",
    always: "always",
    exemption: "an exemption is asked for",
  },
  offline: { creditor: "a creditor reference", order: "the order’s number" },
  limitsOf: { goods: "the goods alone" },
  charge: { fee: "costs more", discount: "costs less" },
  sign: { none: "none" },
  keeps: { storefront: "for this storefront", shop: "for all of the shop" },
  capture: { "at-once": "at once", later: "later" },
  withheldInTrouble: { true: "withheld by itself", false: "offered all the same" },
};

/** A path in an offer's document as its editor names the field. */
export function settingWords(path: string): string {
  const [head = "", ...rest] = path.split(".");
  const [first = "", second, third = "", fourth, fifth] = rest;
  if (head === "stages") return `Order stage when ${stateWords(first)}`;
  if (head === "wording") return `${wordings[second ?? ""] ?? "Name"}, ${nameOfCode("language", first)}`;
  if (head === "charge")
    return first === "sums"
      ? `What choosing it costs or saves, ${second ?? ""}`
      : "What choosing it costs or saves";
  if (head === "orderNumber") return `Order number at the provider, ${first}`;
  if (head === "telling")
    return first === "notes" ? `Told as “${second ?? ""}”` : (telling[first] ?? "What the provider is told");
  if (head === "keeps") return "Whether shoppers may keep what they pay with";
  if (head === "repeats") {
    if (first === "timeZone") return "Time zone of payments that repeat";
    if (first === "trying") return `When a charge is refused: ${trying[second ?? ""] ?? "what is done"}`;
    return `Plan “${second ?? ""}”: ${planWords(third, fourth, fifth)}`;
  }
  if (head === "button") return `Button that pays at once: ${buttons[first] ?? first}`;
  if (head === "notices") return "Where instalments are told of";
  if (head === "sign") return "Sign beside the name";
  if (head === "afterwards") return `Said when ${second ?? "it is over"}, ${nameOfCode("language", first)}`;
  if (head === "rules") return "Further conditions";
  if (head === "offline" && first === "instructions")
    return `Instructions, ${nameOfCode("language", second ?? "")}`;
  if (head === "offline" && first === "account" && second)
    return `${offline.account ?? ""}, ${account[second] ?? second}`;
  if (head === "offline") return offline[first] ?? "Without a provider";
  if (head === "holdBack")
    return first === "from" ? `Held back from, ${second ?? ""}` : "Held back for countries";
  if (head === "exemptUpTo") return `An exemption is asked for up to, ${first}`;
  if (head === "limits") return `${second === "least" ? "Least" : "Greatest"} order total in ${first}`;
  return settings[head] ?? path;
}

/** A part of a plan, with the currency or the language that it is in. */
function planWords(part: string, of = "", more = ""): string {
  if (part === "trial") return of === "days" ? "days of the trial" : `price of the trial, ${more}`;
  if (part === "fixedDay")
    return of === "day" ? "fixed day of the month" : "the part before the fixed day is charged by its days";
  if (part === "tax") return of === "share" ? "tax" : "the tax is in the price";
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
  if (head === "sign" && names[1] === "picture") return "a picture of the shop’s own";
  const [, count, unit] = /^(\d+) (day|week|month)$/.exec(head === "repeats" ? value : "") ?? [];
  const rhythm = rhythmUnits.find((one) => one === unit);
  return rhythm ? rhythmWords({ count: Number(count), unit: rhythm }) : value;
}
