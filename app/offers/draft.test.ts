import { expect, it } from "vitest";
import type { OfferDocument } from "#core/offers/offer";
import { draftOf, readDraft } from "./draft";

const document: OfferDocument = {
  wording: { de: { label: "Karte", hint: "" } },
  countries: ["DE", "AT"],
  currencies: [],
  limits: { EUR: { least: 500, greatest: null } },
  groups: [],
  capture: "at-once",
  authentication: "issuer",
  statement: "LUVWINKEL",
  stages: { captured: "Paid" },
};

it("comes back as it was", () => {
  expect(readDraft(draftOf(document, ["EUR", "GBP"]), "de-DE")).toEqual({ document, problems: [] });
});

it("keeps up to where an exemption is asked for, and forgets it where none is", () => {
  const exempt: OfferDocument = { ...document, authentication: "exemption", exemptUpTo: { EUR: 3000 } };
  const draft = draftOf(exempt, ["EUR", "GBP"]);
  expect(readDraft(draft, "de-DE")).toEqual({ document: exempt, problems: [] });
  expect(readDraft({ ...draft, authentication: "issuer" }, "de-DE").document).toEqual(document);
  expect(readDraft({ ...draft, exemptUpTo: { EUR: "lots" } }, "de-DE").problems).toMatchObject([
    { path: "exemptUpTo.EUR" },
  ]);
});

it("takes commas and points, and names what it cannot read", () => {
  const draft = draftOf(document, ["EUR"]);
  const read = readDraft(
    {
      ...draft,
      countries: "de; ch Germany",
      limits: { EUR: { least: "5,50", greatest: "many" } },
    },
    "en-GB",
  );
  expect(read.document.countries).toEqual(["DE", "CH"]);
  expect(read.document.limits).toEqual({ EUR: { least: 550, greatest: null } });
  expect(read.problems.map((one) => one.path)).toEqual(["countries", "limits.EUR"]);
});
