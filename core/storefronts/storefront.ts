import { mergeEdits } from "../merge";
import {
  languages as languageNames,
  type Problem,
  problem,
  quoted,
  type Reading,
  type Said,
  type SaidValue,
  type SaidValues,
  said,
} from "../said";
import { isCountry, isLanguage } from "../places/codes";
import { isAppScheme } from "./app-address";
import { isCurrency } from "../money/currencies";

/** A storefront as a form gives it: everything is text. */
export interface StorefrontEntry {
  name: string;
  address: string;
  country: string;
  languages: string;
  currencies: string;
  groups: string;
  /** Schemes of apps that shoppers come back to; may be left out. */
  apps?: string;
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
  apps: string[];
}

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
export function readStorefront(entry: StorefrontEntry, taken: readonly string[]): Reading<StorefrontReading> {
  const problems: Problem[] = [];
  const refuse = (path: keyof StorefrontEntry, code: string, values: SaidValues = {}) =>
    problems.push(problem(path, code, values));
  const name = entry.name.trim();
  const id = slugOf(name);
  if (name.length > 60 || id.length < 2) refuse("name", "storefront.name-up-60-characters");
  else if (taken.includes(id)) refuse("name", "storefront.name-taken");
  const text = entry.address.trim();
  const address = URL.canParse(text) ? new URL(text) : null;
  if (!address || !/^https?:$/.test(address.protocol) || text.length > 300) {
    refuse("address", "storefront.address-begins-https-example");
  }
  const country = entry.country.trim().toUpperCase();
  if (country === "") refuse("country", "storefront.country-sells-needed");
  else if (!isCountry(country)) refuse("country", "storefront.no-country", { country: country.slice(0, 20) });
  const languages = list(entry.languages).map((one) => one.toLowerCase());
  const oddLanguage = languages.find((one) => !isLanguage(one));
  if (languages.length === 0 || languages.length > 20) refuse("languages", "storefront.least-one-needed");
  else if (oddLanguage) refuse("languages", "storefront.no-language", { language: oddLanguage.slice(0, 20) });
  const currencies = list(entry.currencies).map((one) => one.toUpperCase());
  const oddCurrency = currencies.find((one) => !isCurrency(one));
  if (currencies.length === 0 || currencies.length > 30) refuse("currencies", "storefront.least-one-needed");
  else if (oddCurrency)
    refuse("currencies", "storefront.no-currency", { currency: oddCurrency.slice(0, 20) });
  const groups = list(entry.groups).map((one) => ({ id: slugOf(one), name: one.slice(0, 60) }));
  if (groups.length === 0 || groups.length > 30 || groups.some((one) => one.id === "")) {
    refuse("groups", "storefront.least-one-needed-example");
  } else if (new Set(groups.map((one) => one.id)).size < groups.length)
    refuse("groups", "storefront.groups-alike");
  const apps = list(entry.apps ?? "").map((one) => one.toLowerCase().replace(/:\/*$/, ""));
  const oddApp = apps.find((one) => !isAppScheme(one));
  if (oddApp !== undefined) refuse("apps", "storefront.no-app-scheme", { scheme: oddApp.slice(0, 60) });
  else if (apps.length > 20) refuse("apps", "storefront.too-many-apps");
  if (problems.length > 0 || !address) return { ok: false, problems };
  const { host, protocol } = address;
  return {
    ok: true,
    value: {
      id,
      name,
      domain: host,
      https: protocol === "https:",
      country,
      languages,
      currencies,
      groups,
      apps,
    },
  };
}

/** What a change of a storefront would touch: said before it is made. `bars`: it cannot be made. */
export interface Touched {
  says: Said;
  bars: boolean;
}

/** A storefront as a form shows it. */
export const entryOf = (storefront: Omit<StorefrontReading, "id">): StorefrontEntry & { apps: string } => ({
  name: storefront.name,
  address: `${storefront.https ? "https" : "http"}://${storefront.domain}`,
  country: storefront.country,
  languages: storefront.languages.join(","),
  currencies: storefront.currencies.join(","),
  groups: storefront.groups.map((one) => one.name).join(", "),
  apps: storefront.apps.join(", "),
});

/** How what stands in a field of a storefront reads. */
function fieldSays(field: string, text: string): SaidValue {
  if (text.trim() === "") return said("storefront.nothing");
  switch (field) {
    case "country":
      return { country: text };
    case "languages":
      return languageNames(list(text));
    case "currencies":
      return list(text);
    default:
      return quoted(field === "groups" || field === "apps" ? list(text) : [text]);
  }
}

/**
 * Puts what somebody typed together with what others saved since they began: what they left alone is as the others have
 * it. Where both changed a field it is theirs who saves now, and `touched` says so first.
 */
export function besideOthers(
  began: StorefrontEntry,
  mine: StorefrontEntry,
  now: StorefrontEntry,
): { entry: StorefrontEntry; touched: Touched[] } {
  const { merged, conflicts } = mergeEdits(began, mine, now);
  const touched = conflicts.map(({ path, mine: own, theirs }) => ({
    bars: false,
    says: said("storefront.changed-meanwhile", {
      field: path,
      theirs: fieldSays(path, String(theirs ?? "")),
      yours: fieldSays(path, String(own ?? "")),
    }),
  }));
  return { entry: merged, touched };
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
        says: said("storefront.named-by", { what: currency, offers: quoted(named.map((one) => one.name)) }),
      });
    else touched.push({ bars: false, says: said("storefront.shoppers-can-no-longer", { currency }) });
  }
  const groupsAfter = after.groups.map((one) => one.id);
  for (const { id, name } of before.groups.filter((one) => !groupsAfter.includes(one.id))) {
    const named = offers.filter((one) => one.groups.includes(id));
    if (named.length > 0)
      touched.push({
        bars: true,
        says: said("storefront.named-by", { what: name, offers: quoted(named.map((one) => one.name)) }),
      });
    else touched.push({ bars: false, says: said("storefront.orders-group-no-longer", { group: name }) });
  }
  const added = gone(after.languages, before.languages);
  if (added.length > 0 && offers.length > 0)
    touched.push({
      bars: false,
      says: said("storefront.every-offer-needs-wording", {
        languages: added.map((language) => ({ language })),
      }),
    });
  const newMoney = gone(after.currencies, before.currencies);
  const open = offers.filter((one) => one.currencies.length === 0);
  if (newMoney.length > 0 && open.length > 0)
    touched.push({
      bars: false,
      says: said("storefront.offered-in-more", {
        offers: quoted(open.map((one) => one.name)),
        currencies: newMoney,
      }),
    });
  const moved = before.domain !== after.domain || before.https !== after.https;
  if (moved && filesOnDomain.length > 0)
    touched.push({
      bars: false,
      says: said("storefront.domain-moves", {
        connections: filesOnDomain,
        before: before.domain,
        after: after.domain,
      }),
    });
  if (before.country !== after.country && offers.length > 0)
    touched.push({
      bars: false,
      says: said("storefront.providers-held-against-then", { country: { country: after.country } }),
    });
  if (livePayments && touched.some((one) => !one.bars))
    touched.push({ bars: false, says: said("storefront.is-live") });
  return touched;
}
