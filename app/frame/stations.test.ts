import { expect, it } from "vitest";
import { pathOn, placeOf } from "./stations";

it("lights the station that a page belongs to", () => {
  expect(
    [
      "/s/de",
      "/s/de/plan/costs",
      "/s/de/exchanges",
      "/s/de/shop",
      "/s/de/operate/pay_1",
      "/profiles/install",
    ].map(placeOf),
  ).toEqual([null, "plan", "operate", "shop", "operate", "plan"]);
  expect(["/people", "/audit", "/jobs", "/storefronts/new"].map(placeOf)).toEqual([
    null,
    "operate",
    "operate",
    "shop",
  ]);
});

it("keeps the station when the storefront is switched, and the page where the other has it too", () => {
  expect(pathOn("uk", "/s/de/plan/costs")).toBe("/s/uk/plan/costs");
  expect(pathOn("uk", "/s/de/operate/webhooks")).toBe("/s/uk/operate/webhooks");
  expect(pathOn("uk", "/s/de/connect/con_1")).toBe("/s/uk/connect");
  expect(pathOn("uk", "/s/de/operate/pay_1")).toBe("/s/uk/operate");
  expect(pathOn("uk", "/s/de/rehearse/prf_1")).toBe("/s/uk/rehearse");
  expect(pathOn("uk", "/s/de")).toBe("/s/uk");
  expect(pathOn("uk", "/people")).toBe("/s/uk");
});
