import fc from "fast-check";
import { expect, it } from "vitest";
import { blankTerms } from "../ways/offline/terms";
import { type AlikePart, alikeParts, isAlikePart, partsOfBoth, setAlike } from "./alike";
import { changesBetween } from "./changes";
import { blankOffer, type OfferDocument } from "./offer";

const blank = blankOffer(
  { name: "Card", kind: "card" },
  {
    ...{ storefrontName: "North", languages: ["de"], currencies: ["EUR"], groups: ["retail"], stages: [] },
    ...{ capture: ["at-once"], authentication: ["issuer"] },
  },
);
const source: OfferDocument = {
  ...blank,
  ...{
    countries: ["DE", "CH"],
    currencies: ["EUR"],
    groups: ["dealers"],
    statement: "LUV",
    capture: "later",
  },
  ...{ captureAfterDays: 3, limits: { EUR: { least: 100, greatest: null } }, limitsOf: "goods" },
  ...{ telling: { lines: true }, withheldInTrouble: true, holdBack: { from: { EUR: 9 }, countries: [] } },
  rules: { match: "all", rules: [{ on: "device", is: "phone" }] },
};
const target: OfferDocument = {
  ...blank,
  exemptUpTo: { EUR: 500 },
  keeps: "shop",
  wording: { de: { label: "W", hint: "" } },
};
const transfer: OfferDocument = {
  ...blank,
  offline: { ...blankTerms("bank-transfer"), dueDays: 9, reminders: [1, 2], expireDays: 20 },
};
const everything = Object.keys(alikeParts).filter(isAlikePart);

it("sets the parts that are named, and nothing else", () => {
  fc.assert(
    fc.property(fc.subarray(everything), (parts) => {
      const made = setAlike(source, target, parts);
      const fields = parts.flatMap((part): readonly string[] => alikeParts[part]);
      for (const { path } of changesBetween(target, made)) expect(fields).toContain(path.split(".")[0]);
      for (const part of parts)
        for (const field of alikeParts[part])
          expect(made[field as keyof OfferDocument]).toEqual(source[field as keyof OfferDocument]);
      expect(setAlike(source, made, parts)).toEqual(made);
    }),
  );
});

it("takes away what the other does not say", () => {
  expect(setAlike(source, target, ["authentication"])).not.toHaveProperty("exemptUpTo");
  expect(setAlike(target, source, ["rules", "limits"])).not.toHaveProperty("rules");
});

it("sets nothing that only one of them can have", () => {
  expect(setAlike(source, transfer, ["capture", "telling", "due", "account"])).toEqual(transfer);
  expect(setAlike(transfer, source, ["due", "account"])).toEqual(source);
  expect(partsOfBoth(source, target)).not.toContain("due" satisfies AlikePart);
  expect(partsOfBoth(transfer, transfer)).not.toContain("capture" satisfies AlikePart);
});

it("sets when money is due, and where it goes, each by itself", () => {
  const other: OfferDocument = {
    ...blank,
    offline: {
      ...blankTerms("invoice"),
      account: { holder: "North", iban: "DE49999000000000204101", bic: "", bank: "" },
    },
  };
  const due = setAlike(transfer, other, ["due"]);
  expect(due.offline).toMatchObject({ dueDays: 9, reminders: [1, 2], expireDays: 20 });
  expect(due.offline?.account).toEqual(other.offline?.account);
  const account = setAlike(other, transfer, ["account"]);
  expect(account.offline).toEqual({
    ...transfer.offline,
    ...{ account: other.offline?.account, reference: other.offline?.reference },
  });
});
