import { speaking } from "../../scripts/english";
import { readdirSync, readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import type { Profile } from "./profile";
import { type Chosen, clashesOf as clashesOfSaid } from "../offers/clashes";
import { fitOf as fitOfSaid, type Wanted } from "./fit";
import { findProviders, searchIndex } from "./search";

const fitOf = speaking(fitOfSaid);
const clashesOf = speaking(clashesOfSaid);

const profiles = readdirSync("profiles").map(
  (name) => JSON.parse(readFileSync(`profiles/${name}`, "utf8")) as Profile,
);
const of = (id: string) => profiles.find((one) => one.id === id) as Profile;
const index = searchIndex(profiles);
const find = (typed: string) => findProviders(index, profiles, typed);

describe("looking for a provider", () => {
  it("finds by name, by method in a shopper's words, by network, with slips and without marks", () => {
    expect(find("Quippa")[0]).toBe("quippa");
    expect(find("quipa")[0]).toBe("quippa");
    expect(find("ratenzahlung")).toEqual(["ratenhaus"]);
    expect(find("später bezahlen")).toEqual(["pennywhistle"]);
    expect(find("spater")).toEqual(["pennywhistle"]);
    expect(find("Umbra").sort()).toEqual(["karvello", "ostwick"]);
    expect(find("scan to pay")).toEqual(["quippa"]);
    expect(find("Kreditk").sort()).toEqual(["karvello", "ostwick"]);
    expect(find("zebra")).toEqual([]);
  });

  it("shows all for nothing typed", () => {
    expect(find("  ")).toEqual(profiles.map((one) => one.id));
  });
});

const wanted: Wanted = { merchantCountry: "DE", shopperCountry: null, currencies: ["EUR"], https: true };

describe("a provider held against a storefront", () => {
  const says = (id: string, change: Partial<Wanted> = {}) => {
    const { ok, because, notes } = fitOf(of(id), { ...wanted, ...change });
    return [ok, [...because, ...notes].join("; ")] as const;
  };

  it("fits, or says why it cannot serve", () => {
    expect(says("karvello")).toEqual([true, ""]);
    expect(says("karvello", { merchantCountry: "JP" })[1]).toMatch(/takes no merchants in Japan/);
    expect(says("ratenhaus", { currencies: ["GBP"] })).toEqual([
      false,
      "Ratenhaus instalments cannot charge GBP",
    ]);
    expect(says("ratenhaus", { shopperCountry: "FR" })[1]).toMatch(
      /for shoppers in Germany, Austria, not in France/,
    );
    expect(says("pennywhistle", { shopperCountry: "FR" })[0]).toBe(true);
  });

  it("is told what it can only do in part, and where it wants https", () => {
    expect(says("ratenhaus", { currencies: ["EUR", "GBP"] })).toEqual([true, "It cannot charge GBP"]);
    expect(says("thumbra", { https: false })).toEqual([true, "It wants the shop reached by https in live"]);
  });
});

const chosen = (id: string, currencies: string[] = ["EUR"], change: Partial<Chosen> = {}): Chosen => {
  const profile = of(id);
  const [method] = profile.methods;
  return {
    id,
    name: profile.name,
    profile,
    kind: method?.kind ?? "card",
    carries: method?.carries ?? [],
    takes: method?.takes ?? [],
    currencies,
    ...change,
  };
};
const codes = (...list: Chosen[]) => clashesOf(list).map((one) => one.code);

describe("providers beside each other", () => {
  it("clash when both serve what only one may, in the same currency, and say the way out", () => {
    const [clash] = clashesOf([chosen("karvello"), chosen("ostwick")]);
    expect(clash).toMatchObject({
      code: "both-serve",
      blocking: true,
      says: "Karvello and Ostwick cannot both serve cards in EUR.",
    });
    expect(clash?.wayOut).toMatch(/switch the other off, or offer it in other currencies/);
    expect(codes(chosen("karvello", ["EUR"]), chosen("ostwick", ["GBP"]))).toEqual([]);
    expect(codes(chosen("karvello"), chosen("quippa"), chosen("ratenhaus"))).toEqual([]);
  });

  it("clash when two accounts of one provider do, and never with themselves", () => {
    expect(
      codes(chosen("karvello"), chosen("karvello", ["EUR"], { id: "second", name: "Karvello 2" })),
    ).toEqual(["both-serve"]);
    expect(codes(chosen("karvello"), chosen("karvello"))).toEqual([]);
  });

  it("need what they ride on", () => {
    expect(codes(chosen("thumbra"))).toEqual(["nothing-to-ride-on"]);
    expect(codes(chosen("thumbra"), chosen("quippa"))).toEqual(["nothing-to-ride-on"]);
    expect(codes(chosen("thumbra"), chosen("ostwick"))).toEqual(["nothing-to-ride-on"]);
    expect(codes(chosen("thumbra"), chosen("karvello"))).toEqual([]);
  });

  it("warn, and no more, of a wallet that comes by two roads", () => {
    const [warning] = clashesOf([chosen("pennywhistle"), chosen("ostwick")]);
    expect(warning).toMatchObject({ code: "two-roads", blocking: false });
    expect(warning?.says).toMatch(/Pennywhistle can be had from itself and through Ostwick/);
  });
});
