import { expect, it } from "vitest";
import { settingWords, valueWords } from "./change-words";

it("names settings as the editor does", () => {
  expect(settingWords("authentication")).toBe("Strong authentication");
  expect(settingWords("stages.partly-refunded")).toBe("Order stage when partly refunded");
  expect(settingWords("wording.de.hint")).toBe("Hint, German");
  expect(settingWords("limits.EUR.greatest")).toBe("Greatest order total in EUR");
  expect(settingWords("offline.instructions.de")).toBe("Instructions, German");
  expect(settingWords("offline.account.iban")).toBe("Account that shoppers transfer to, IBAN");
  expect(settingWords("repeats.plans.box.prices.EUR")).toBe("Plan “box”: price, EUR");
  expect(settingWords("repeats.plans.box.names.fr")).toBe("Plan “box”: name, French");
  expect(settingWords("repeats.plans.box.trial.days")).toBe("Plan “box”: days of the trial");
  expect(settingWords("repeats.trying.tries")).toBe("When a charge is refused: tried again on days");
  expect(settingWords("telling.notes.season")).toBe("Told as “season”");
  expect(settingWords("button.shape")).toBe("Button that pays at once: shape");
  expect(settingWords("something.new")).toBe("something.new");
});

it("writes values as the editor does, limits by the currency's own decimals", () => {
  expect(valueWords("authentication", "issuer", "de-DE")).toBe("when the issuer asks");
  expect(valueWords("limits.EUR.greatest", "100000", "en-GB")).toBe("€1,000.00");
  expect(valueWords("limits.JPY.least", "500", "ja-JP")).toBe("¥500");
  expect(valueWords("repeats.plans.box.trial.prices.EUR", "900", "en-GB")).toBe("€9.00");
  expect(valueWords("repeats.plans.box.rhythm", "3 month", "en-GB")).toBe("every 3 months");
  expect(valueWords("repeats.plans.box.tax.share", "1900", "en-GB")).toBe("19 %");
  expect(valueWords("charge.share", "250", "en-GB")).toBe("2.5 %");
  expect(valueWords("countries", "DE, CH", "en-GB")).toBe("Germany, Switzerland");
  expect(valueWords("offline.reference", "creditor", "en-GB")).toBe("a creditor reference");
  expect(valueWords("offline.account.bank", "order", "en-GB")).toBe("order");
  expect(valueWords("telling.lines", "true", "en-GB")).toBe("yes");
  expect(valueWords("sign.picture", "f".repeat(64), "en-GB")).toBe("a picture of the shop’s own");
  expect(valueWords("statement", "LUVWINKEL", "de-DE")).toBe("LUVWINKEL");
});
