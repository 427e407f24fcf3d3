import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { blankOffer, type OfferDocument } from "../offers/offer";
import type { Profile } from "./profile";
import { readProfile } from "./read-profile";
import { tellable, toldBy, toldByFrame, untold } from "./told";

const shipped = (name: string): Profile => {
  const reading = readProfile(JSON.parse(readFileSync(`profiles/${name}.json`, "utf8")));
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.profile;
};
const document = blankOffer(
  { name: "Card", kind: "card" },
  {
    ...{ storefrontName: "North", languages: ["de"], currencies: ["EUR"], groups: ["retail"], stages: [] },
    ...{ capture: ["at-once"], authentication: ["issuer"] },
  },
  { statement: "LUVWINKEL" },
);
const told = async (name: string, methodId: string, change: Partial<OfferDocument> = {}) =>
  toldBy(shipped(name), "create", { currency: "EUR", document: { ...document, ...change }, methodId });

describe("what a provider is told", () => {
  it("is every field of the request, each with what it was made of", async () => {
    const fields = Object.fromEntries(
      (await told("karvello", "card")).map(({ path, value, of }) => [path, `${value}: ${of.join(", ")}`]),
    );
    expect(fields).toEqual({
      sum: "4390: amount",
      coin: "EUR: currency",
      token: "one-time-token: token",
      take: "now: capture",
      ask: "issuer: authentication",
      statement: "LUVWINKEL: statement",
      your_ref: "z-01hx: reference",
      go_back_to: "https://shop.example/back: returnAddress",
    });
  });

  it("names lines where they are told, and what stays here, the e-mail address among it", async () => {
    const fields = await told("ratenhaus", "plan");
    expect(fields.find(({ path }) => path === "goods[1].what")).toMatchObject({
      value: "Kite",
      of: ["order.lines"],
    });
    expect(untold(fields)).toEqual(expect.arrayContaining(["order.email", "order.billTo", "order.shopper"]));
    const more = await told("ratenhaus", "plan", { telling: { address: true, shopper: true } });
    const of = (path: string) => more.find((one) => one.path === path)?.of;
    expect([of("lives_at.town"), of("known_as")]).toEqual([["order.billTo"], ["order.shopper"]]);
    expect(untold(await told("karvello", "card"))).toEqual(
      expect.arrayContaining(["order.email", "order.lines", "country", "language"]),
    );
    expect(untold([])).toEqual([...tellable]);
  });

  it("says that something is to be kept only where the offer lets shoppers keep it", async () => {
    const keeps = (fields: readonly { path: string; of: readonly string[] }[]) =>
      fields.filter(({ path }) => path === "keep_card").map(({ of }) => of);
    expect(keeps(await told("karvello", "card"))).toEqual([]);
    expect(keeps(await told("karvello", "card", { keeps: "storefront" }))).toEqual([["keep"]]);
  });

  it("never reads what the account's own values are", async () => {
    const [outlet] = (await told("ostwick", "card")).filter(({ path }) => path === "OUTLET");
    expect(outlet?.value).toMatch(/^\(.+\)$/);
    expect(outlet?.of).toEqual([]);
  });

  it("counts what the address of its form says, without the account's own values", () => {
    const [address] = toldByFrame(shipped("karvello"));
    expect(address?.of).toEqual(["language"]);
    expect(address?.value).toContain("de");
    expect(toldByFrame(shipped("ratenhaus"))).toEqual([]);
  });

  it("is nothing where the provider is not asked", async () => {
    expect(
      await toldBy(shipped("karvello"), "requestToken", { currency: "EUR", document, methodId: "card" }),
    ).toEqual([]);
  });
});
