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
  if (!/^[A-Z]{2}$/.test(country)) problems.country = "Two letters, for example DE.";
  const languages = list(entry.languages).map((one) => one.toLowerCase());
  const oddLanguage = languages.find((one) => !/^[a-z]{2,3}(-[a-z0-9]{2,8})*$/.test(one));
  if (languages.length === 0 || languages.length > 20)
    problems.languages = "At least one is needed, for example de, en.";
  else if (oddLanguage) problems.languages = `“${oddLanguage.slice(0, 20)}” is not a language code.`;
  const currencies = list(entry.currencies).map((one) => one.toUpperCase());
  const oddCurrency = currencies.find((one) => !isCurrency(one));
  if (currencies.length === 0 || currencies.length > 30)
    problems.currencies = "At least one is needed, for example EUR.";
  else if (oddCurrency) problems.currencies = `“${oddCurrency.slice(0, 20)}” is not a currency code.`;
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
