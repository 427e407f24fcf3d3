import { expect, it } from "vitest";
import { stationLink } from "./station-link";

it("leads to the very page where something is mended", () => {
  const where = { connectionId: "con_1", offerId: "off_1" };
  expect(stationLink("de", "connect", where)).toBe("/s/de/connect/con_1");
  expect(stationLink("de", "offer", where)).toBe("/s/de/offer/off_1");
  expect(stationLink("de", "offer", { ...where, offerId: null })).toBe("/s/de/offer?add=1");
  expect(stationLink("de", "cut-over", where)).toBe("/s/de/cut-over?of=con_1");
  expect(stationLink("de", "shop", where)).toBe("/s/de/shop");
});
