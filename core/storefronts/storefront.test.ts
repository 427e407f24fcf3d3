import { spoken } from "../../scripts/english";
import { describe, expect, it } from "vitest";
import { appSchemeOf } from "./app-address";
import {
  besideOthers,
  entryOf,
  readStorefront,
  slugOf,
  type SettingsInUse,
  type StorefrontEntry,
  touchedBy,
} from "./storefront";

const entry: StorefrontEntry = {
  name: "Luvwinkel Köln",
  address: "https://shop.luvwinkel.example/start",
  country: "de",
  languages: "de, EN",
  currencies: "eur; gbp",
  groups: "Retail, Clubs and schools",
};
const problems = (change: Partial<StorefrontEntry>) => {
  const reading = readStorefront({ ...entry, ...change }, ["taken"]);
  return reading.ok ? [] : reading.problems.map((one) => one.path);
};

it("reads what a person writes", () => {
  expect(readStorefront(entry, [])).toEqual({
    ok: true,
    value: {
      id: "luvwinkel-koln",
      name: "Luvwinkel Köln",
      domain: "shop.luvwinkel.example",
      https: true,
      country: "DE",
      languages: ["de", "en"],
      currencies: ["EUR", "GBP"],
      groups: [
        { id: "retail", name: "Retail" },
        { id: "clubs-and-schools", name: "Clubs and schools" },
      ],
      apps: [],
    },
  });
  expect(slugOf("  --Ça va? ")).toBe("ca-va");
});

it("takes apps by what their addresses begin with, and nothing that a browser runs itself", () => {
  const apps = (text: string) => {
    const reading = readStorefront({ ...entry, apps: text }, []);
    return reading.ok ? reading.value.apps : reading.problems.map((one) => one.path);
  };
  expect(apps("com.Luvwinkel.app://, org.example.kites:/")).toEqual([
    "com.luvwinkel.app",
    "org.example.kites",
  ]);
  for (const odd of ["javascript", "data:", "https", "luvwinkel", "com..app", "com.app/x", "1.app"])
    expect(apps(odd), odd).toEqual(["apps"]);
  expect(["com.example.app:/orders/7", "com.example.app://x"].map(appSchemeOf)).toEqual([
    "com.example.app",
    "com.example.app",
  ]);
  for (const odd of [
    "javascript:alert(1)",
    "data:text/html,x",
    "https://a.example",
    "no address",
    "about:blank",
  ])
    expect(appSchemeOf(odd), odd).toBeNull();
});

it("names each field that cannot be taken", () => {
  expect(problems({ name: "Taken" })).toEqual(["name"]);
  expect(problems({ name: "🪁" })).toEqual(["name"]);
  expect(problems({ address: "javascript:alert(1)" })).toEqual(["address"]);
  expect(problems({ address: "shop.example" })).toEqual(["address"]);
  expect(problems({ country: "Germany", languages: "", currencies: "EUX", groups: "A, a" })).toEqual([
    "country",
    "languages",
    "currencies",
    "groups",
  ]);
});

it("takes no country, language or currency that there is not", () => {
  expect(problems({ country: "xx" })).toEqual(["country"]);
  expect(problems({ country: "UK" })).toEqual(["country"]);
  expect(problems({ languages: "de, xx" })).toEqual(["languages"]);
});

it("says what a change of its settings would touch, and what bars it", () => {
  const reading = readStorefront(entry, []);
  if (!reading.ok) throw new Error("refused");
  const { value: storefront } = reading;
  const used: SettingsInUse = {
    offers: [
      { name: "Card", live: true, currencies: ["GBP"], groups: [] },
      { name: "Wallet", live: false, currencies: [], groups: ["clubs-and-schools"] },
    ],
    filesOnDomain: ["Thumb wallet"],
    livePayments: true,
  };
  const touched = (change: Partial<typeof storefront>) =>
    spoken(touchedBy(storefront, { ...storefront, ...change }, used)).map(
      (one) => `${one.bars ? "no" : "yes"}: ${one.says}`,
    );
  expect(touched({})).toEqual([]);
  expect(touched({ name: "Another name" })).toEqual([]);
  expect(touched({ currencies: ["EUR"] })).toEqual(["no: GBP is named by “Card”; take it out there first."]);
  expect(touched({ currencies: ["GBP"] })[0]).toBe("yes: Shoppers can no longer pay in EUR.");
  expect(touched({ groups: [{ id: "retail", name: "Retail" }] })[0]).toMatch(
    /^no: Clubs and schools is named by “Wallet”/,
  );
  expect(touched({ domain: "new.example" })[0]).toMatch(
    /^yes: Thumb wallet found its file on shop\.luvwinkel/,
  );
  expect(touched({ languages: ["de", "en", "ja"] })[0]).toMatch(/wording in Japanese/);
  expect(touched({ currencies: ["EUR", "GBP", "CHF"] })[0]).toMatch(/“Wallet” would be offered in CHF/);
  expect(touched({ country: "AT" }).at(-1)).toMatch(/live: shoppers see the change at once/);
});

describe("a change beside somebody else's", () => {
  const reading = readStorefront(entry, []);
  if (!reading.ok) throw new Error("refused");
  const began = entryOf(reading.value);
  const said = (mine: Partial<StorefrontEntry>, theirs: Partial<StorefrontEntry>) => {
    const beside = besideOthers(began, { ...began, ...mine }, { ...began, ...theirs });
    return { ...beside, says: spoken(beside.touched).map((one) => one.says) };
  };

  it("reads back as the form shows it", () => {
    expect(readStorefront(began, [])).toEqual(reading);
  });

  it("keeps what only they changed, and what only I changed", () => {
    const { entry: together, says } = said(
      { name: "Luvwinkel Nord" },
      { country: "AT", apps: "example.app" },
    );
    expect(together).toEqual({ ...began, name: "Luvwinkel Nord", country: "AT", apps: "example.app" });
    expect(says).toEqual([]);
  });

  it("says both values of a field that both changed, and mine is saved once that is known", () => {
    const {
      entry: together,
      touched,
      says,
    } = said(
      { name: "Mine", country: "FR", languages: "de,fr", apps: "" },
      { name: "Theirs", country: "AT", languages: "ja", apps: "" },
    );
    expect(together).toEqual({ ...began, name: "Mine", country: "FR", languages: "de,fr", apps: "" });
    expect(touched.every((one) => !one.bars)).toBe(true);
    expect(says).toEqual([
      "Name: somebody saved “Theirs” meanwhile. Yours, “Mine”, takes its place.",
      "Country it sells from: somebody saved Austria meanwhile. Yours, France, takes its place.",
      "Languages: somebody saved Japanese meanwhile. Yours, German, French, takes its place.",
    ]);
    expect(said({ apps: "de.mine" }, { apps: "de.theirs" }).says).toEqual([
      "Apps: somebody saved “de.theirs” meanwhile. Yours, “de.mine”, takes its place.",
    ]);
    expect(said({ groups: "Retail" }, { groups: "" }).says[0]).toContain("somebody saved nothing meanwhile");
  });

  it("has nothing to say where both changed it alike", () => {
    expect(said({ name: "Same" }, { name: "Same" }).says).toEqual([]);
  });
});
