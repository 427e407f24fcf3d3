import { expect, it } from "vitest";
import { readStorefront, slugOf, type StorefrontEntry } from "./storefront";

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
  return reading.ok ? [] : Object.keys(reading.problems);
};

it("reads what a person writes", () => {
  expect(readStorefront(entry, [])).toEqual({
    ok: true,
    storefront: {
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
    },
  });
  expect(slugOf("  --Ça va? ")).toBe("ca-va");
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
