import { expect, it } from "vitest";
import { addressBook } from "./address-book";
import { karvello } from "./karvello";
import { quippa } from "./quippa";

it("lists every provider with its ways in, and what goes on there", () => {
  const origin = () => "http://localhost:4100";
  const [card, code] = [karvello(origin), quippa(origin)];
  const calm = addressBook([code, card]);
  expect(calm.indexOf("Karvello")).toBeLessThan(calm.indexOf("Quippa"));
  for (const { house, manner } of [card, code]) {
    expect(calm).toContain(`href="/${house.name}/dashboard/sandbox"`);
    expect(calm).toContain(`href="/${house.name}/dashboard/live"`);
    expect(calm).toContain(manner.password);
  }
  expect(calm).toContain("no payments");
  const account = code.house.books("live").accounts[0]?.id ?? "";
  const order = { account, ref: "R1", sum: 500, coin: "JPY", takeNow: true, goBackTo: null, way: "" };
  code.house.open("live", order, "Q1");
  expect(addressBook([code, card])).toContain("1 payment");
});
