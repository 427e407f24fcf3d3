import { type Money, moneyText } from "../money/money";
import { type OfferDocument, wordingFor } from "./offer";

/** What a shopper brings to the checkout. */
export interface Cart {
  total: Money;
  country: string;
  language: string;
  group: string;
}

/** An offer as the decision needs it: its document, where its connection stands, what its method can take. */
export interface Candidate {
  id: string;
  document: OfferDocument;
  off: boolean;
  standing: "ready" | "no-keys" | "no-domain" | "not-live" | "fallen-back" | "no-carrier";
  /** Currencies the method takes, and those the account was read back to charge (null: not read yet). */
  methodCurrencies: readonly string[];
  accountCurrencies: readonly string[] | null;
  /** The provider's least and greatest amounts by currency, minor units. */
  minimum: Readonly<Record<string, number>>;
  maximum: Readonly<Record<string, number>>;
  /** Countries whose shoppers the method is for; empty: any. */
  shopperCountries: readonly string[];
}

export const withheldCodes = [
  "switched-off",
  "no-keys",
  "not-live",
  "fallen-back",
  "no-domain",
  "no-carrier",
  "country",
  "currency-not-offered",
  "currency-not-taken",
  "currency-not-charged",
  "below-least",
  "above-greatest",
  "below-minimum",
  "above-maximum",
  "not-for-country",
  "group",
] as const;
export type WithheldCode = (typeof withheldCodes)[number];

/** Why an offer is withheld, and what would change it. For administrators; shoppers never see it. */
export interface Because {
  code: WithheldCode;
  says: string;
  change: string;
}

export interface Shown {
  id: string;
  label: string;
  hint: string;
}

export interface Decision {
  shown: Shown[];
  withheld: { id: string; label: string; because: Because[] }[];
}

/**
 * Which offers a cart gets and why the others are withheld. Pure and linear in the number of offers and
 * rules; the hosted checkout, the shop API and the shopper's mirror all ask this one function.
 */
export function decide(candidates: readonly Candidate[], cart: Cart): Decision {
  const shown: Shown[] = [];
  const withheld: Decision["withheld"] = [];
  const text = amountWriter(cart);
  for (const candidate of candidates) {
    const { label, hint } = wordingFor(candidate.document, cart.language);
    const because = reasons(candidate, cart, text);
    if (because.length === 0) shown.push({ id: candidate.id, label, hint });
    else withheld.push({ id: candidate.id, label, because });
  }
  return { shown, withheld };
}

const among = (list: readonly string[], value: string) => list.length === 0 || list.includes(value);

/** Writes minor units of the cart's currency; offers name the same few amounts again and again. */
function amountWriter({ total: { currency }, language }: Cart): (minor: number) => string {
  const written = new Map<number, string>();
  return (minor) => {
    const known = written.get(minor) ?? moneyText({ amount: minor, currency }, language);
    written.set(minor, known);
    return known;
  };
}

function reasons(candidate: Candidate, cart: Cart, text: (minor: number) => string): Because[] {
  const { document } = candidate;
  const found: Because[] = [];
  const { amount, currency } = cart.total;
  const because = (code: WithheldCode, says: string, change: string) => found.push({ code, says, change });
  if (candidate.off) because("switched-off", "It is switched off.", "Switch it on.");
  if (candidate.standing === "no-keys") {
    because(
      "no-keys",
      "Its connection has no proven keys for this mode.",
      "Prove the keys on the handshake sheet.",
    );
  } else if (candidate.standing === "not-live") {
    because("not-live", "It has not been cut over to live.", "Cut the connection over.");
  } else if (candidate.standing === "fallen-back") {
    because("fallen-back", "Its connection has fallen back to test.", "Cut the connection over again.");
  } else if (candidate.standing === "no-domain") {
    because(
      "no-domain",
      "Its provider has not found its file on the shop’s domain.",
      "Have it look, on the handshake sheet.",
    );
  } else if (candidate.standing === "no-carrier") {
    because(
      "no-carrier",
      "No card offer that takes its tokens is in use here.",
      "Switch on the card offer that it rides on; in live, cut that over first.",
    );
  }
  if (!among(document.countries, cart.country)) {
    const says = `It is offered in ${document.countries.join(", ")}; this shopper is in ${cart.country}.`;
    because("country", says, `Add ${cart.country} to its countries.`);
  }
  if (!among(document.currencies, currency)) {
    const says = `It is offered in ${document.currencies.join(", ")}; this basket is in ${currency}.`;
    because("currency-not-offered", says, `Add ${currency} to its currencies.`);
  }
  if (!candidate.methodCurrencies.includes(currency)) {
    because(
      "currency-not-taken",
      `The method takes no ${currency}.`,
      `Offer another method for ${currency}.`,
    );
  } else if (candidate.accountCurrencies && !candidate.accountCurrencies.includes(currency)) {
    const says = `The account cannot charge ${currency}.`;
    because("currency-not-charged", says, `Have the provider open ${currency} for the account.`);
  }
  const limit = document.limits[currency];
  if (limit && limit.least !== null && amount < limit.least) {
    because("below-least", `It starts at ${text(limit.least)}.`, `Lower the least total to ${text(amount)}.`);
  }
  if (limit && limit.greatest !== null && amount > limit.greatest) {
    because(
      "above-greatest",
      `It ends at ${text(limit.greatest)}.`,
      `Raise the greatest total to ${text(amount)}.`,
    );
  }
  const minimum = candidate.minimum[currency];
  if (minimum !== undefined && amount < minimum) {
    because(
      "below-minimum",
      `The provider takes no less than ${text(minimum)}.`,
      "Nothing here can change that.",
    );
  }
  const maximum = candidate.maximum[currency];
  if (maximum !== undefined && amount > maximum) {
    because(
      "above-maximum",
      `The provider takes no more than ${text(maximum)}.`,
      "Nothing here can change that.",
    );
  }
  if (!among(candidate.shopperCountries, cart.country)) {
    const says = `The method is for shoppers in ${candidate.shopperCountries.join(", ")}; this one is in ${cart.country}.`;
    because("not-for-country", says, `Offer another method in ${cart.country}.`);
  }
  if (!among(document.groups, cart.group)) {
    const says = `It is for ${document.groups.join(", ")}; this shopper is in “${cart.group}”.`;
    because("group", says, `Add “${cart.group}” to its shopper groups.`);
  }
  return found;
}
