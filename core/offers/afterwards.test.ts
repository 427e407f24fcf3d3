import fc from "fast-check";
import { expect, it } from "vitest";
import { say } from "../../scripts/english";
import { afterwardsProblems, outcomes, saidAfter } from "./afterwards";

const values = { order: "LW-7", total: "43,90 €", shop: "Luvwinkel" };

it("says what the shop says, in the shopper's language, with its places filled", () => {
  const texts = { de: { paid: "Danke! {order} über {total} ist bei {shop}.", waiting: "  " } };
  expect(saidAfter(texts, "de-AT", "paid", values)).toBe("Danke! LW-7 über 43,90 € ist bei Luvwinkel.");
  expect(saidAfter(texts, "de", "waiting", values)).toBeNull();
  expect(saidAfter(texts, "de", "failed", values)).toBeNull();
  // Words in another language help nobody.
  expect(saidAfter(texts, "fr", "paid", values)).toBeNull();
  expect(saidAfter(undefined, "de", "paid", values)).toBeNull();
});

it("complains of what it cannot say, at its place", () => {
  const problems = (input: unknown) =>
    afterwardsProblems(input, ["de"]).map((one) => `${one.path}: ${say(one)}`);
  expect(problems({ de: { paid: "Danke, {name}" } })).toEqual([
    "afterwards.de.paid: {name} is no place: {order}, {total} and {shop} are.",
  ]);
  expect(problems({ fr: { paid: "{name}" } })).toEqual([]);
  expect(problems({ de: { paid: "x".repeat(301) } })).toEqual([
    "afterwards.de.paid: Say it in 300 characters.",
  ]);
  for (const odd of [null, [], "de", { de: null }, { de: 1 }, { de: { won: "x" } }, { de: { paid: 1 } }])
    expect(problems(odd), JSON.stringify(odd)).toHaveLength(1);
});

it("whatever is typed, either it is complained of or nothing in braces is left that has a meaning here", () => {
  fc.assert(
    fc.property(fc.string({ unit: fc.constantFrom("{", "}", "order", "total", "x", " ") }), (text) => {
      const input = { de: { paid: text } };
      if (afterwardsProblems(input, ["de"]).length > 0) return;
      for (const outcome of outcomes)
        expect(saidAfter(input, "de", outcome, values) ?? "").not.toMatch(/\{(order|total|shop)\}/);
    }),
  );
});
