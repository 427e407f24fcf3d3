import { expect, it } from "vitest";
import type { Terms } from "#core/subscriptions/agreed";
import { usualTrying } from "#core/subscriptions/plan";
import { intervalText, mandateOf } from "./mandate.server";
import { spokenHere } from "./words.server";

const terms: Terms = {
  ...{ plan: "season", name: "Ein Drachen je Saison", currency: "EUR", rhythm: { count: 3, unit: "month" } },
  ...{ times: null, price: 4_900, setUp: 500, setUpName: "Einrichtung", trial: { days: 14, price: 0 } },
  ...{ fixedDay: null, tax: null, trying: usualTrying, timeZone: "Europe/Berlin" },
};
const at = Date.UTC(2027, 0, 20, 12);
const order = (change: Partial<Terms> = {}, begins = true, language = "de") => ({
  ...{ language, country: "DE", total: 500 },
  subscription: { id: "sub_1", terms: { ...terms, ...change }, quantity: 2, begins },
});
const says = (change?: Partial<Terms>, begins?: boolean) =>
  mandateOf(order(change, begins), { shop: "Luvwinkel DE", at })?.map((line) =>
    line.replaceAll("\u00a0", " "),
  );

it("says what is charged, how often, from when and until when, and whom it is agreed with", () => {
  expect(says()).toEqual([
    "Diese Zahlung wiederholt sich",
    "Ein Drachen je Saison: 98,00 €, von selbst abgebucht",
    "Abstand: 3 Monate",
    "Das nächste Mal am 3. Februar 2027",
    "Bis Sie kündigen",
    expect.stringContaining("dass Luvwinkel DE dies abbucht"),
  ]);
  expect(says({ times: 12 })?.[4]).toBe("Zahl der Abbuchungen: 12");
});

it("says no day to whoever pays a later period, and nothing of what is paid once", () => {
  expect(says({}, false)).toHaveLength(5);
  expect(mandateOf({ language: "de", country: "DE", total: 500 }, { shop: "Luvwinkel DE", at })).toBeNull();
});

it("says that nothing is charged today to whoever begins for nothing", () => {
  const free = mandateOf({ ...order({ setUp: 0 }), total: 0 }, { shop: "Luvwinkel DE", at });
  expect(free?.at(-1)).toBe(
    "Heute wird nichts abgebucht. Indem Sie fortfahren, stimmen Sie zu, dass Luvwinkel DE dies abbucht, ohne Sie jedes Mal zu fragen. Sie können jederzeit kündigen.",
  );
});

it("is whole in every language, and writes years as such", () => {
  for (const language of Object.keys(spokenHere))
    expect(mandateOf(order({}, true, language), { shop: "X", at })?.join(" ")).not.toMatch(/\{\w+\}/);
  expect(intervalText({ count: 12, unit: "month" }, "de-DE")).toBe("1 Jahr");
  expect(intervalText({ count: 2, unit: "week" }, "en-GB")).toBe("2 weeks");
});
