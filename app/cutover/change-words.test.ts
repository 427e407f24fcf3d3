import { expect, it } from "vitest";
import { settingWords, valueWords } from "./change-words";

it("names settings as the editor does", () => {
  expect(settingWords("authentication")).toBe("Strong authentication");
  expect(settingWords("stages.partly-refunded")).toBe("Order stage when partly refunded");
  expect(settingWords("wording.de.hint")).toBe("Hint, German");
  expect(settingWords("limits.EUR.greatest")).toBe("Greatest order total in EUR");
  expect(settingWords("something.new")).toBe("something.new");
});

it("writes values as the editor does, limits by the currency's own decimals", () => {
  expect(valueWords("authentication", "issuer", "de-DE")).toBe("when the issuer asks");
  expect(valueWords("limits.EUR.greatest", "100000", "en-GB")).toBe("€1,000.00");
  expect(valueWords("limits.JPY.least", "500", "ja-JP")).toBe("¥500");
  expect(valueWords("statement", "LUVWINKEL", "de-DE")).toBe("LUVWINKEL");
});
