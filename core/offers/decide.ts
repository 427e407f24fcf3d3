import { type Said, countries, said } from "../said";
import type { Money } from "../money/money";
import type { PictureRef } from "../looks/look";
import { chargeFor, isOutOfProportion } from "./charge";
import type { OfferIcon } from "./icons";
import { type OfferDocument, type Wording, wordingFor } from "./offer";
import { type Asked, reasonsOf } from "./rules";
import type { Zone } from "./zones";
import type { OrderOfSubscription } from "../subscriptions/agreed";
import { agree, termsOf } from "../subscriptions/terms";

/** What a shopper brings to the checkout. */
export interface Cart {
  total: Money;
  /** What of it is for goods, without shipping, minor units; not said: as much as the total. */
  goods?: number;
  country: string;
  language: string;
  group: string;
  /** What rules ask about beside that. */
  asked: Asked;
  /** What the shopper subscribes to with it, or has; none: it is paid once. */
  subscription?: Pick<OrderOfSubscription, "terms" | "begins">;
}

/** An offer as the decision needs it: its document, where its connection stands, what its method can take. */
export interface Candidate {
  id: string;
  document: OfferDocument;
  off: boolean;
  standing: "ready" | "no-keys" | "no-domain" | "not-live" | "fallen-back" | "no-carrier" | "not-put-live";
  /** Whether the storefront takes fees for choosing a way of paying. */
  fees?: boolean;
  /** The usual sign of its kind. */
  icon?: OfferIcon;
  /** Whether the provider does not answer at the moment. */
  troubled: boolean;
  /** Currencies the method takes, and those the account was read back to charge (null: not read yet). */
  methodCurrencies: readonly string[];
  accountCurrencies: readonly string[] | null;
  /** The provider's least and greatest amounts by currency, minor units. */
  minimum: Readonly<Record<string, number>>;
  maximum: Readonly<Record<string, number>>;
  /** Whether the method takes a payment of nothing, by which a shopper agrees to be charged later. */
  verifies?: boolean;
  /** Countries whose shoppers the method is for; empty: any. */
  shopperCountries: readonly string[];
  /** Zones that its rules may name. */
  zones: readonly Zone[];
}

export const withheldCodes = [
  "switched-off",
  "no-keys",
  "not-live",
  "fallen-back",
  "no-domain",
  "no-carrier",
  "in-trouble",
  "country",
  "currency-not-offered",
  "currency-not-taken",
  "currency-not-charged",
  "below-least",
  "above-greatest",
  "below-minimum",
  "above-maximum",
  "not-for-country",
  "fee-not-taken",
  "charge-out-of-proportion",
  "group",
  "zone",
  "goods",
  "delivery",
  "weight",
  "time",
  "shopper",
  "tries",
  "device",
  "none-of",
  "no-plan",
] as const;
export type WithheldCode = (typeof withheldCodes)[number];

/** Why an offer is withheld, and what would change it. For administrators; shoppers never see it. */
export interface Because {
  code: WithheldCode;
  says: Said;
  change: Said;
}

export interface Shown extends Wording {
  id: string;
  /** What choosing it adds to what is asked for, minor units; below zero it takes off. */
  charge: number;
  sign: { icon: OfferIcon } | { picture: PictureRef } | null;
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
  for (const candidate of candidates) {
    const { document, id } = candidate;
    const wording = wordingFor(document, cart.language);
    const charge = chargeFor(document.charge, cart.total);
    const because = reasons(candidate, cart, charge);
    if (because.length === 0) shown.push({ ...wording, id, charge, sign: signOf(candidate) });
    else withheld.push({ id, label: wording.label, because });
  }
  return { shown, withheld };
}

/** The sign beside an offer's name: what the offer says, else the usual one of its kind. */
export function signOf({
  document: { sign },
  icon: usual,
}: Pick<Candidate, "document" | "icon">): Shown["sign"] {
  if (sign && "picture" in sign) return sign;
  const icon = sign?.icon ?? usual ?? "none";
  return icon === "none" ? null : { icon };
}

/**
 * Whether a subscription can be paid by an offer: to begin it has to ask for just what the shopper was told; later it does
 * where it repeats payments at all, whatever it asks of others by then.
 */
function takesPlan(
  { repeats }: OfferDocument,
  { terms, begins }: NonNullable<Cart["subscription"]>,
  language: string,
): boolean {
  if (!repeats || !begins) return repeats !== undefined;
  const plan = repeats.plans.find(({ id }) => id === terms.plan);
  const own = plan && termsOf(plan, { currency: terms.currency, language }, repeats);
  return Boolean(own && agree(own, terms));
}

const among = (list: readonly string[], value: string) => list.length === 0 || list.includes(value);

function reasons(candidate: Candidate, cart: Cart, charge: number): Because[] {
  const { document } = candidate;
  const found: Because[] = [];
  const { amount, currency } = cart.total;
  const sum = (minor: number): Money => ({ amount: minor, currency });
  const because = (code: WithheldCode, says: Said, change: Said) => found.push({ code, says, change });
  if (candidate.off) because("switched-off", said("decide.switched-off"), said("decide.switch-on"));
  if (candidate.standing === "no-keys") {
    because("no-keys", said("decide.connection-no-proven-keys"), said("decide.prove-keys-handshake-sheet"));
  } else if (candidate.standing === "not-live") {
    because("not-live", said("decide.not-cut-over-live"), said("decide.cut-connection-over"));
  } else if (candidate.standing === "not-put-live") {
    because("not-live", said("decide.not-put-live"), said("decide.put-it-live"));
  } else if (candidate.standing === "fallen-back") {
    because(
      "fallen-back",
      said("decide.connection-fallen-back-test"),
      said("decide.cut-connection-over-again"),
    );
  } else if (candidate.standing === "no-domain") {
    because("no-domain", said("decide.provider-not-found-file"), said("decide.have-it-look"));
  } else if (candidate.standing === "no-carrier") {
    because("no-carrier", said("decide.no-card-offer-takes"), said("decide.switch-card-offer-rides"));
  }
  if (candidate.troubled && document.withheldInTrouble)
    because("in-trouble", said("decide.provider-in-trouble"), said("decide.comes-back-by-itself"));
  if (!among(document.countries, cart.country)) {
    const says = said("decide.country", {
      countries: countries(document.countries),
      country: { country: cart.country },
    });
    because("country", says, said("decide.add-country", { country: { country: cart.country } }));
  }
  if (!among(document.currencies, currency)) {
    const says = said("decide.currency-not-offered", { currencies: document.currencies, currency });
    because("currency-not-offered", says, said("decide.add-currencies", { currency }));
  }
  if (!candidate.methodCurrencies.includes(currency)) {
    because(
      "currency-not-taken",
      said("decide.method-takes-no", { currency }),
      said("decide.offer-another-method", { currency }),
    );
  } else if (candidate.accountCurrencies && !candidate.accountCurrencies.includes(currency)) {
    const says = said("decide.account-cannot-charge", { currency });
    because("currency-not-charged", says, said("decide.provider-open-account", { currency }));
  }
  const limit = document.limits[currency];
  const judged = document.limitsOf === "goods" ? (cart.goods ?? amount) : amount;
  // The provider is asked for the total with what choosing this adds to it.
  const asked = amount + charge;
  // Whoever subscribes for nothing agrees to be charged later: how little may be paid is no question then.
  const free = asked === 0 && cart.subscription !== undefined;
  if (limit && limit.least !== null && !free && judged < limit.least) {
    because(
      "below-least",
      said("decide.below-least", { least: sum(limit.least) }),
      said("decide.lower-least-total", { amount: sum(judged) }),
    );
  }
  if (limit && limit.greatest !== null && judged > limit.greatest) {
    because(
      "above-greatest",
      said("decide.above-greatest", { greatest: sum(limit.greatest) }),
      said("decide.raise-greatest-total", { amount: sum(judged) }),
    );
  }
  const minimum = candidate.minimum[currency];
  if (free && !candidate.verifies) {
    because("below-minimum", said("decide.takes-no-nothing"), said("decide.nothing-can-change"));
  } else if (minimum !== undefined && !free && asked < minimum) {
    because(
      "below-minimum",
      said("decide.provider-takes-no-less", { minimum: sum(minimum) }),
      said("decide.nothing-can-change"),
    );
  }
  const maximum = candidate.maximum[currency];
  if (maximum !== undefined && asked > maximum) {
    because(
      "above-maximum",
      said("decide.provider-takes-no-more", { maximum: sum(maximum) }),
      said("decide.nothing-can-change"),
    );
  }
  if (!among(candidate.shopperCountries, cart.country)) {
    const says = said("decide.not-for-country", {
      countries: countries(candidate.shopperCountries),
      country: { country: cart.country },
    });
    because(
      "not-for-country",
      says,
      said("decide.offer-another-for-country", { country: { country: cart.country } }),
    );
  }
  if (charge > 0 && !candidate.fees)
    because("fee-not-taken", said("decide.fee-not-taken"), said("decide.take-no-fee"));
  if (charge !== 0 && isOutOfProportion(charge, cart.total)) {
    const says = said("decide.charge-out-of-proportion", { charge: sum(Math.abs(charge)) });
    because("charge-out-of-proportion", says, said("decide.set-least-total"));
  }
  if (!among(document.groups, cart.group)) {
    const says = said("decide.group", { groups: document.groups, group: cart.group });
    because("group", says, said("decide.add-shopper-groups", { group: cart.group }));
  }
  const { subscription } = cart;
  if (subscription && !takesPlan(document, subscription, cart.language)) {
    const { plan } = subscription.terms;
    because("no-plan", said("decide.no-plan", { plan }), said("decide.add-plan", { plan }));
  }
  if (document.rules)
    for (const reason of reasonsOf(document.rules, cart.asked, candidate.zones)) found.push(reason);
  return found;
}
