import { isCountry } from "../places/codes";
import { type Problem, problem, type Reading, type Said, said } from "../said";

/** A named set of places, reused in rules: whole countries, regions of them (ISO 3166-2), and postcodes. */
export interface Zone {
  id: string;
  name: string;
  countries: string[];
  /** Such as DE-SH. */
  regions: string[];
  /** Such as "DE 25*" or "DE 25930-25999": a country, and postcodes by their beginning or from one to another. */
  postcodes: string[];
}

/** Where something goes, or who pays for it, as far as the shop says. */
export interface Place {
  country: string;
  region?: string;
  postcode?: string;
}

const MOST = 500;
const POSTCODES = /^([A-Z]{2}) ([0-9A-Z ]{1,10})(?:(\*)|-([0-9A-Z ]{1,10}))?$/;
const plain = (postcode: string) => postcode.toUpperCase().replace(/[\s-]/g, "");

const list = (text: string) => [
  ...new Set(
    text
      .split(/[,;\n]+/)
      .map((one) => one.trim().toUpperCase().replace(/\s+/g, " "))
      .filter(Boolean),
  ),
];

/** A zone as a form gives it: lists are text. */
export type ZoneEntry = Record<"name" | "countries" | "regions" | "postcodes", string>;

/** Reads a zone, or says by field what is wrong with it. */
export function readZone(entry: ZoneEntry): Reading<Omit<Zone, "id">> {
  const problems: Problem[] = [];
  const name = entry.name.trim();
  if (name === "" || name.length > 60) problems.push(problem("name", "rules.zone-name"));
  const each = (
    path: "countries" | "regions" | "postcodes",
    odd: (value: string) => Said,
    holds: (one: string) => boolean,
  ) => {
    const all = list(entry[path]);
    const found = all.find((one) => !holds(one));
    if (found !== undefined) problems.push({ path, ...odd(found.slice(0, 30)) });
    else if (all.length > MOST) problems.push(problem(path, "rules.zone-too-long", { most: MOST }));
    return all;
  };
  const countries = each("countries", (value) => said("rules.zone-country", { value }), isCountry);
  const regions = each(
    "regions",
    (value) => said("rules.zone-region", { value }),
    (one) => /^[A-Z]{2}-[0-9A-Z]{1,3}$/.test(one) && isCountry(one.slice(0, 2)),
  );
  const postcodes = each(
    "postcodes",
    (value) => said("rules.zone-postcode", { value }),
    (one) => POSTCODES.test(one) && isCountry(one.slice(0, 2)),
  );
  if (problems.length === 0 && countries.length + regions.length + postcodes.length === 0)
    problems.push(problem("countries", "rules.zone-empty"));
  return problems.length > 0
    ? { ok: false, problems }
    : { ok: true, value: { name, countries, regions, postcodes } };
}

/** Whether a place lies in a zone. */
export function isWithin(zone: Zone, { country, region, postcode }: Place): boolean {
  if (zone.countries.includes(country)) return true;
  if (region !== undefined && zone.regions.includes(region.includes("-") ? region : `${country}-${region}`))
    return true;
  if (postcode === undefined) return false;
  const mine = plain(postcode);
  return codesOf(zone).some((one) => one.country === country && holdsCode(one, mine));
}

/** Postcodes of a country by their beginning, or from one to another of the same length. */
type Codes = { country: string } & ({ begins: string } | { from: string; to: string });
const read = new WeakMap<Zone, Codes[]>();

/** A zone's postcodes, taken apart once. */
function codesOf(zone: Zone): Codes[] {
  const known = read.get(zone);
  if (known) return known;
  const codes = zone.postcodes.flatMap((pattern): Codes[] => {
    const [, country, first, all, last] = POSTCODES.exec(pattern) ?? [];
    if (country === undefined || first === undefined) return [];
    const from = plain(first);
    return [all ? { country, begins: from } : { country, from, to: last === undefined ? from : plain(last) }];
  });
  read.set(zone, codes);
  return codes;
}

const holdsCode = (codes: Codes, postcode: string): boolean =>
  "begins" in codes
    ? postcode.startsWith(codes.begins)
    : postcode.length === codes.from.length && postcode >= codes.from && postcode <= codes.to;

/** A place within a zone: one of its postcodes, or else of its countries. Null for a zone of regions alone. */
export function placeIn({ postcodes, countries }: Pick<Zone, "postcodes" | "countries">): Place | null {
  const [, country, postcode] = POSTCODES.exec(postcodes[0] ?? "") ?? [];
  if (country && postcode) return { country, postcode };
  return countries[0] ? { country: countries[0] } : null;
}
