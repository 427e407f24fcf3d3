import { describe, expect, it } from "vitest";
import { spoken } from "../../scripts/english";
import { moneyBesideOthers, moneyEntryOf, type MoneyTerms, readMoneyTerms, usualTerms } from "./money-terms";

const terms: MoneyTerms = { late: "ask", secondPersonFrom: { EUR: 4_050, JPY: 9_000 }, choiceFees: false };
const currencies = ["EUR", "JPY", "GBP"];
const amountsOf = (entry: Record<string, string>) =>
  Object.fromEntries(currencies.map((one) => [one, entry[`from-${one}`] ?? ""]));

describe("what an owner sets about money", () => {
  it("reads back as the form shows it", () => {
    for (const each of [terms, usualTerms, { ...usualTerms, choiceFees: true }]) {
      const entry = moneyEntryOf(each, currencies);
      expect(Object.keys(entry)).toEqual(["late", "fees", "from-EUR", "from-JPY", "from-GBP"]);
      const { late = "", fees = "" } = entry;
      expect(readMoneyTerms({ late, fees }, amountsOf(entry), "en-GB")).toEqual({ ok: true, value: each });
    }
    expect(moneyEntryOf(terms, currencies)).toMatchObject({
      "from-EUR": "40.50",
      "from-JPY": "9000",
      "from-GBP": "",
    });
  });

  it("says by field what cannot be taken", () => {
    const read = readMoneyTerms({ late: "never", fees: "law" }, { EUR: "lots", JPY: "", GBP: "-1" }, "en-GB");
    expect(read.ok ? [] : read.problems.map((one) => one.path)).toEqual(["late", "from-EUR", "from-GBP"]);
  });

  it("is put together with what another owner saved meanwhile", () => {
    const began = moneyEntryOf(usualTerms, currencies);
    const beside = (mine: object, theirs: object) =>
      moneyBesideOthers(began, { ...began, ...mine }, { ...began, ...theirs });
    expect(beside({ late: "ask" }, { "from-EUR": "40.00" })).toEqual({
      entry: { ...began, late: "ask", "from-EUR": "40.00" },
      problems: [],
    });
    const both = beside(
      { late: "ask", fees: "allow", "from-EUR": "60", "from-JPY": "1" },
      { late: "return", fees: "refuse", "from-EUR": "40.00", "from-JPY": "2" },
    );
    expect(both.entry).toMatchObject({ late: "ask", fees: "allow", "from-EUR": "60" });
    expect(spoken(both.problems).map((one) => `${one.path}: ${one.says}`)).toEqual([
      "late: Somebody chose “give it back, and tell” meanwhile. Save once more to put yours in its place.",
      "fees: Somebody chose “refused” meanwhile. Save once more to put yours in its place.",
      "from-EUR: Somebody saved 40.00 meanwhile. Save once more to put yours in its place.",
      "from-JPY: Somebody saved 2 meanwhile. Save once more to put yours in its place.",
    ]);
    const gone = moneyBesideOthers(
      { ...began, "from-EUR": "40.00" },
      { ...began, "from-EUR": "60" },
      { ...began, "from-EUR": "" },
    );
    expect(spoken(gone.problems)[0]?.says).toMatch(/^Somebody saved nothing meanwhile/);
  });
});
