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
  statement: "Statement text",
  withheldInTrouble: "While the provider does not answer",
};
const values: Record<string, Record<string, string>> = {
  authentication: {
    issuer: "when the issuer asks",
    always: "always",
    exemption: "an exemption is asked for",
  },
  capture: { "at-once": "at once", later: "later" },
  withheldInTrouble: { true: "withheld by itself", false: "offered all the same" },
};

/** A path in an offer's document as its editor names the field. */
export function settingWords(path: string): string {
  const [head = "", ...rest] = path.split(".");
  const [first = "", second] = rest;
  if (head === "stages") return `Order stage when ${stateWords(first)}`;
  if (head === "wording") return `${second === "hint" ? "Hint" : "Name"}, ${nameOfCode("language", first)}`;
  if (head === "afterwards") return `Said when ${second ?? "it is over"}, ${nameOfCode("language", first)}`;
  if (head === "rules") return "Further conditions";
  if (head === "offline") return "Without a provider";
  if (head === "holdBack")
    return first === "from" ? `Held back from, ${second ?? ""}` : "Held back for countries";
  if (head === "exemptUpTo") return `An exemption is asked for up to, ${first}`;
  if (head === "limits") return `${second === "least" ? "Least" : "Greatest"} order total in ${first}`;
  return settings[head] ?? path;
}

/** A value as the editor shows it, amounts as the storefront writes them; limits are minor units of the currency in their path. */
export function valueWords(path: string, value: string, locale: string): string {
  const [head = "", first = "", second = ""] = path.split(".");
  const currency = head === "holdBack" ? second : first;
  if (
    (head === "holdBack" || head === "limits" || head === "exemptUpTo") &&
    isCurrency(currency) &&
    /^\d{1,15}$/.test(value)
  )
    return moneyText({ amount: Number(value), currency }, locale);
  return values[head]?.[value] ?? value;
}
