import { stateWords } from "#core/payments/facts";
import { isCurrency } from "#core/money/currencies";
import { moneyText } from "#core/money/money";
import { nameOfCode } from "#core/places/names";

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
  instructions: "Instructions",
};
const telling: Record<string, string> = {
  lines: "The order’s lines are told",
  email: "The shopper’s e-mail address is told",
  address: "Where it goes and from where it is paid is told",
  shopper: "Who the shopper is at the shop is told",
  brand: "What the shop is called on its pages",
  notes: "Pairs of your own",
};
const wordings: Record<string, string> = { hint: "Hint", button: "On the button", help: "Help" };
const values: Record<string, Record<string, string>> = {
  authentication: {
    issuer: "when the issuer asks",
    always: "always",
    exemption: "an exemption is asked for",
  },
  keeps: { storefront: "for this storefront", shop: "for all of the shop" },
  capture: { "at-once": "at once", later: "later" },
  withheldInTrouble: { true: "withheld by itself", false: "offered all the same" },
};

/** A path in an offer's document as its editor names the field. */
export function settingWords(path: string): string {
  const [head = "", ...rest] = path.split(".");
  const [first = "", second] = rest;
  if (head === "stages") return `Order stage when ${stateWords(first)}`;
  if (head === "wording") return `${wordings[second ?? ""] ?? "Name"}, ${nameOfCode("language", first)}`;
  if (head === "charge")
    return first === "sums"
      ? `What choosing it costs or saves, ${second ?? ""}`
      : "What choosing it costs or saves";
  if (head === "orderNumber") return `Order number at the provider, ${first}`;
  if (head === "telling") return telling[first] ?? "What the provider is told";
  if (head === "keeps") return "Whether shoppers may keep what they pay with";
  if (head === "repeats")
    return first === "plans" ? "Plans of payments that repeat" : "When a charge is refused";
  if (head === "notices") return "Where instalments are told of";
  if (head === "sign") return "Sign beside the name";
  if (head === "afterwards") return `Said when ${second ?? "it is over"}, ${nameOfCode("language", first)}`;
  if (head === "rules") return "Further conditions";
  if (head === "offline") return offline[first] ?? "Without a provider";
  if (head === "holdBack")
    return first === "from" ? `Held back from, ${second ?? ""}` : "Held back for countries";
  if (head === "exemptUpTo") return `An exemption is asked for up to, ${first}`;
  if (head === "limits") return `${second === "least" ? "Least" : "Greatest"} order total in ${first}`;
  return settings[head] ?? path;
}

/** A value as the editor shows it, amounts as the storefront writes them; limits are minor units of the currency in their path. */
export function valueWords(path: string, value: string, locale: string): string {
  const [head = "", first = "", second = ""] = path.split(".");
  const currency = head === "holdBack" || head === "charge" ? second : first;
  if (path === "charge.share") return `${Number(value) / 100} %`;
  if (
    (head === "holdBack" || head === "charge" || head === "limits" || head === "exemptUpTo") &&
    isCurrency(currency) &&
    /^\d{1,15}$/.test(value)
  )
    return moneyText({ amount: Number(value), currency }, locale);
  return values[head]?.[value] ?? value;
}
