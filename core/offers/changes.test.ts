import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { paragraphs, type RichText } from "../rich-text";
import { blankTerms } from "../ways/offline/terms";
import { say } from "../../scripts/english";
import { changesBetween, offerChanges, partOf } from "./changes";
import { blankOffer, type OfferDocument } from "./offer";

const flat = fc.dictionary(
  fc.stringMatching(/^[a-z]{1,6}$/),
  fc.oneof(fc.stringMatching(/^[a-z]{1,5}$/), fc.integer(), fc.boolean(), fc.constant(null)),
  { maxKeys: 6 },
);
const document = fc.dictionary(fc.stringMatching(/^[a-z]{1,6}$/), fc.oneof(flat, fc.string(), fc.integer()), {
  maxKeys: 5,
});

describe("the changes of a cutover", () => {
  it("name each leaf that differs, new ones and those that go", () => {
    expect(
      changesBetween(
        { wording: { de: { label: "Karte" } }, countries: ["DE"], statement: "LUV", limits: {} },
        {
          wording: { de: { label: "Karte" }, en: { label: "Card" } },
          countries: [],
          limits: { EUR: { least: 500 } },
        },
      ),
    ).toEqual([
      { path: "countries", from: "DE", to: "all" },
      { path: "limits.EUR.least", from: null, to: "500" },
      { path: "statement", from: "LUV", to: null },
      { path: "wording.en.label", from: null, to: "Card" },
    ]);
  });

  it("list everything when nothing was live, and nothing when nothing differs", () => {
    expect(changesBetween(null, { capture: "later" })).toEqual([
      { path: "capture", from: null, to: "later" },
    ]);
    fc.assert(
      fc.property(document, (one) => {
        expect(changesBetween(one, structuredClone(one))).toEqual([]);
      }),
    );
  });

  it("read backwards are the same changes the other way, in the same order", () => {
    fc.assert(
      fc.property(document, document, (before, after) => {
        const back = changesBetween(after, before).map(({ path, from, to }) => ({
          path,
          from: to,
          to: from,
        }));
        expect(changesBetween(before, after)).toEqual(back);
      }),
    );
  });
});

const blank = blankOffer(
  { name: "Card", kind: "card" },
  {
    ...{ storefrontName: "North", languages: ["de"], currencies: ["EUR"], groups: ["retail"], stages: [] },
    ...{ capture: ["at-once"], authentication: ["issuer"] },
  },
);
const plan = (id: string, EUR: number) => ({
  ...{ id, names: { de: "Box" }, rhythm: { count: 3, unit: "month" as const }, times: null },
  ...{ prices: { EUR }, setUp: {}, setUpNames: {}, trial: null, fixedDay: null, tax: null },
});
const repeating = (...plans: ReturnType<typeof plan>[]): OfferDocument => ({
  ...blank,
  repeats: { plans, trying: { tries: [], asks: [0], ends: null }, timeZone: "Europe/Berlin" },
});
const instructed = (text: RichText): OfferDocument => ({
  ...blank,
  offline: { ...blankTerms("bank-transfer"), instructions: { de: text } },
});

describe("the changes of an offer", () => {
  const changes = (before: OfferDocument | undefined, after: OfferDocument) =>
    offerChanges(before, after, []).map(({ path, from, to }) => [
      path,
      ...[from, to].map((value) => (value === null || typeof value === "string" ? value : say(value))),
    ]);

  it("are read plan by plan, whatever comes before one", () => {
    expect(
      changes(repeating(plan("box", 4_900)), repeating(plan("small", 900), plan("box", 5_200))).filter(
        ([path]) => !String(path).startsWith("repeats.plans.small."),
      ),
    ).toEqual([["repeats.plans.box.prices.EUR", "4900", "5200"]]);
    expect(changes(blank, repeating())).not.toContainEqual(["repeats.trying.tries", null, "all"]);
  });

  it("say what instructions said and say, and that only their form differs", () => {
    const bold: RichText = {
      type: "doc",
      content: [
        { type: "paragraph", content: [{ type: "text", text: "Pay soon.", marks: [{ type: "bold" }] }] },
      ],
    };
    const plain = paragraphs("Pay soon.");
    const path = "offline.instructions.de";
    expect(changes(instructed(plain), instructed(paragraphs("Pay by {due}.")))).toEqual([
      [path, "Pay soon.", "Pay by {due}."],
    ]);
    expect(changes(instructed(plain), instructed(bold))).toEqual([[path, "Pay soon.", "Pay soon."]]);
    expect(changes(instructed(plain), instructed(structuredClone(plain)))).toEqual([]);
    // How a provider moves the money says nothing of an offer that has none.
    const settings = changes(undefined, instructed(plain)).map(([at]) => at);
    expect(settings).toContain(path);
    expect(settings).not.toContain("capture");
    expect(changes(undefined, blank).map(([at]) => at)).toContain("capture");
  });

  it("say rules as one sentence", () => {
    const rules = { match: "all" as const, rules: [{ on: "device" as const, is: "phone" as const }] };
    const [[path, from, to] = []] = changes(blank, { ...blank, rules });
    expect([path, from]).toEqual(["rules", null]);
    expect(to).toMatch(/phone/);
  });

  it("are taken over with what they cannot be without", () => {
    const parts = {
      "limits.EUR.least": "limits.EUR",
      "repeats.plans.box.prices.EUR": "repeats",
      "sign.icon": "sign",
      "offline.account.iban": "offline.account",
      "offline.instructions.de": "offline.instructions.de",
      "wording.de.hint": "wording.de.hint",
      capture: "capture",
      rules: "rules",
    };
    for (const [path, part] of Object.entries(parts)) expect(partOf(path), path).toBe(part);
  });
});
