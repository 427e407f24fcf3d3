import { expect, it } from "vitest";
import type { OfferDocument } from "#core/offers/offer";
import type { Plan, Repeats } from "#core/subscriptions/plan";
import { usualTrying } from "#core/subscriptions/plan";
import { type Draft, draftOf, readDraft } from "../draft";
import { blankPlan, draftOfRepeats, readRepeats, type RepeatsDraft } from "./repeats-draft";

const cardDocument: OfferDocument = {
  ...{ wording: {}, countries: [], currencies: [], limits: {}, groups: [], stages: {} },
  ...{ capture: "at-once", authentication: "issuer", statement: "LUVWINKEL" },
};
const plan: Plan = {
  ...{ id: "season", names: { de: "Ein Drachen je Saison", en: "A kite a season" } },
  ...{ rhythm: { count: 3, unit: "month" }, times: 8, prices: { EUR: 4_900 }, setUp: { EUR: 500 } },
  ...{ setUpNames: { de: "Einrichtung", en: "Setting up" }, trial: null },
  ...{ fixedDay: { day: 31, prorated: false }, tax: { share: 1_950, included: false } },
};
const repeats: Repeats = { plans: [plan], trying: usualTrying, timeZone: "Europe/Berlin" };
const read = (change: (draft: RepeatsDraft) => RepeatsDraft = (one) => one) => {
  const draft: Draft = { ...draftOf({ ...cardDocument, repeats }, ["EUR"]) };
  return readDraft({ ...draft, repeats: change(draft.repeats) }, "de-DE");
};
const withPlan = (change: object) => (one: RepeatsDraft) => ({
  ...one,
  plans: one.plans.map((each) => ({ ...each, ...change })),
});

it("reads back as it was written, with a trial, a fixed day or neither", () => {
  expect(read()).toMatchObject({ document: { repeats }, problems: [] });
  for (const change of [
    { fixedDay: null, trial: { days: 14, prices: { EUR: 100 } } },
    { fixedDay: null, trial: null, times: null, tax: null, setUp: {}, setUpNames: {} },
  ]) {
    const other = { ...repeats, plans: [{ ...plan, ...change }] };
    expect(readRepeats(draftOfRepeats(other), () => null).problems).toEqual([]);
    const { document } = readDraft(draftOf({ ...cardDocument, repeats: other }, ["EUR"]), "de-DE");
    expect(document.repeats).toEqual(other);
  }
});

it("is none without a plan, and names what cannot be read at its field", () => {
  expect(read((one) => ({ ...one, plans: [] })).document).not.toHaveProperty("repeats");
  const wrong = read(withPlan({ count: "often", prices: { EUR: "free" }, day: "32", tax: "much" })).problems;
  expect(wrong.map(({ path }) => path).sort()).toEqual([
    "repeats.plans.0.fixedDay",
    "repeats.plans.0.prices.EUR",
    "repeats.plans.0.rhythm",
    "repeats.plans.0.tax",
  ]);
  expect(blankPlan([]).id).toBe("plan-1");
});
