import { expect, it } from "vitest";
import { countryCodes, isCountry, isLanguage, languageCodes } from "./codes";
import { nameOfCode, namesOfCodes } from "./names";

it("knows every country of ISO 3166-1 and none that there is not", () => {
  expect(countryCodes).toHaveLength(249);
  expect(new Set(countryCodes).size).toBe(249);
  expect(["DE", "GB", "JP"].every(isCountry)).toBe(true);
  expect(["XX", "EU", "UK", "de", ""].some(isCountry)).toBe(false);
});

it("knows languages with what follows them", () => {
  expect(new Set(languageCodes).size).toBe(languageCodes.length);
  expect(["de", "en-GB", "zh-Hant-TW"].every(isLanguage)).toBe(true);
  expect(["xx", "deutsch", "DE", "d"].some(isLanguage)).toBe(false);
});

it("calls them by name in a language", () => {
  expect(nameOfCode("region", "DE")).toBe("Germany");
  expect(nameOfCode("region", "DE", "de")).toBe("Deutschland");
  expect(nameOfCode("language", "ja")).toBe("Japanese");
  expect(nameOfCode("currency", "GBP")).toBe("British Pound");
  expect(nameOfCode("region", "nonsense")).toBe("nonsense");
  expect(namesOfCodes("region", ["DE", "AT", "CH"])).toBe("Germany, Austria, and Switzerland");
  for (const code of countryCodes) expect(nameOfCode("region", code), code).not.toBe(code);
  for (const code of languageCodes) expect(nameOfCode("language", code), code).not.toBe(code);
});
