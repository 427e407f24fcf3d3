import { isCountry, isLanguage } from "../places/codes";
import { isCurrency } from "../money/currencies";

/** A storefront as a form gives it: everything is text. */
export interface StorefrontEntry {
  name: string;
  address: string;
  country: string;
  languages: string;
  currencies: string;
  groups: string;
}

export interface StorefrontReading {
  id: string;
  name: string;
  domain: string;
  https: boolean;
  country: string;
  languages: string[];
  currencies: string[];
  groups: { id: string; name: string }[];
}

export type ReadStorefront =
  | { ok: true; storefront: StorefrontReading }
  | { ok: false; problems: Partial<Record<keyof StorefrontEntry, string>> };

const list = (text: string) => [
  ...new Set(
    text
      .split(/[,;\n]+/)
      .map((one) => one.trim())
      .filter(Boolean),
  ),
];

/** Lower-case letters, digits and dashes out of a name, for addresses and the shop API. */
export const slugOf = (name: string) =>
  name
    .normalize("NFKD")
    .replace(/[\u0300-\u036f]/g, "")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 40);

/** Reads a new storefront, or says by field what is wrong. `taken` are the ids that exist. */
export function readStorefront(entry: StorefrontEntry, taken: readonly string[]): ReadStorefront {
  const problems: Partial<Record<keyof StorefrontEntry, string>> = {};
  const name = entry.name.trim();
  const id = slugOf(name);
  if (name.length > 60 || id.length < 2)
    problems.name = "A name of up to 60 characters, with at least two letters, is needed.";
  else if (taken.includes(id)) problems.name = "There is a storefront of this name.";
  const text = entry.address.trim();
  const address = URL.canParse(text) ? new URL(text) : null;
  if (!address || !/^https?:$/.test(address.protocol) || text.length > 300) {
    problems.address = "The address begins with https://, for example https://shop.example.com.";
  }
  const country = entry.country.trim().toUpperCase();
  if (!isCountry(country))
    problems.country = country
      ? `“${country.slice(0, 20)}” is no country.`
      : "The country it sells from is needed.";
  const languages = list(entry.languages).map((one) => one.toLowerCase());
  const oddLanguage = languages.find((one) => !isLanguage(one));
  if (languages.length === 0 || languages.length > 20) problems.languages = "At least one is needed.";
  else if (oddLanguage) problems.languages = `“${oddLanguage.slice(0, 20)}” is no language.`;
  const currencies = list(entry.currencies).map((one) => one.toUpperCase());
  const oddCurrency = currencies.find((one) => !isCurrency(one));
  if (currencies.length === 0 || currencies.length > 30) problems.currencies = "At least one is needed.";
  else if (oddCurrency) problems.currencies = `“${oddCurrency.slice(0, 20)}” is no currency.`;
  const groups = list(entry.groups).map((one) => ({ id: slugOf(one), name: one.slice(0, 60) }));
  if (groups.length === 0 || groups.length > 30 || groups.some((one) => one.id === "")) {
    problems.groups = "At least one is needed, for example Retail.";
  } else if (new Set(groups.map((one) => one.id)).size < groups.length)
    problems.groups = "Two groups have the same name.";
  if (Object.keys(problems).length > 0 || !address) return { ok: false, problems };
  const { host, protocol } = address;
  return {
    ok: true,
    storefront: {
      id,
      name,
      domain: host,
      https: protocol === "https:",
      country,
      languages,
      currencies,
      groups,
    },
  };
}

/** What a change of a storefront would touch: said before it is made. `bars`: it cannot be made. */
export interface Touched {
  says: string;
  bars: boolean;
}

/** What uses a storefront's settings, as far as a change of them touches it. */
export interface SettingsInUse {
  offers: readonly {
    name: string;
    live: boolean;
    currencies: readonly string[];
    groups: readonly string[];
  }[];
  /** Connections whose provider found its file on the domain. */
  filesOnDomain: readonly string[];
  livePayments: boolean;
}

const quoted = (names: readonly string[]) => names.map((one) => `“${one}”`).join(", ");

/** Holds a changed storefront against what uses it. */
export function touchedBy(
  before: Omit<StorefrontReading, "id">,
  after: Omit<StorefrontReading, "id">,
  { offers, filesOnDomain, livePayments }: SettingsInUse,
): Touched[] {
  const touched: Touched[] = [];
  const gone = (was: readonly string[], is: readonly string[]) => was.filter((one) => !is.includes(one));
  for (const currency of gone(before.currencies, after.currencies)) {
    const named = offers.filter((one) => one.currencies.includes(currency));
    if (named.length > 0)
      touched.push({
        bars: true,
        says: `${currency} is named by ${quoted(named.map((one) => one.name))}; take it out there first.`,
      });
    else touched.push({ bars: false, says: `Shoppers can no longer pay in ${currency}.` });
  }
  const groupsAfter = after.groups.map((one) => one.id);
  for (const { id, name } of before.groups.filter((one) => !groupsAfter.includes(one.id))) {
    const named = offers.filter((one) => one.groups.includes(id));
    if (named.length > 0)
      touched.push({
        bars: true,
        says: `${name} is named by ${quoted(named.map((one) => one.name))}; take it out there first.`,
      });
    else
      touched.push({ bars: false, says: `Orders of the group ${name} are no longer taken from the shop.` });
  }
  const added = gone(after.languages, before.languages);
  if (added.length > 0 && offers.length > 0)
    touched.push({
      bars: false,
      says: `Every offer needs its wording in ${added.join(", ")} before its next cutover.`,
    });
  const newMoney = gone(after.currencies, before.currencies);
  const open = offers.filter((one) => one.currencies.length === 0);
  if (newMoney.length > 0 && open.length > 0)
    touched.push({
      bars: false,
      says: `${quoted(open.map((one) => one.name))} would be offered in ${newMoney.join(", ")} too, where the account can charge it.`,
    });
  const moved = before.domain !== after.domain || before.https !== after.https;
  if (moved && filesOnDomain.length > 0)
    touched.push({
      bars: false,
      says: `${filesOnDomain.join(", ")} found its file on ${before.domain}; it has to be asked to look at ${after.domain}, and is not offered until it has.`,
    });
  if (before.country !== after.country && offers.length > 0)
    touched.push({
      bars: false,
      says: `Providers are held against ${after.country} from then on; what does not serve it is said at Plan.`,
    });
  if (livePayments && touched.some((one) => !one.bars))
    touched.push({ bars: false, says: "This storefront is live: shoppers see the change at once." });
  return touched;
}
