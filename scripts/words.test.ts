import { expect, it } from "vitest";
import {
  bareWordsIn,
  checkoutComplaints,
  codesIn,
  complaints,
  complaintsAbout,
  pageKeysIn,
} from "./words.mjs";

it("every code has its sentence, every sentence is used, and every place in it is filled", () => {
  expect(complaints()).toEqual([]);
});

it("a missing, an unused and a malformed sentence are complained of, and a place that nothing fills", () => {
  const codes = codesIn(
    "here.ts",
    `said("a.there", { one }); said("a.missing"); problem("path", "a.place"); said(\`a.kind.\${kind}\`);`,
  );
  const found = complaintsAbout(
    codes,
    new Map([
      ["a.there", "No place for it."],
      ["a.place", "A {place}."],
      ["a.unused", "Nobody says this."],
      ["a.kind.card", "{broken"],
    ]),
  );
  expect(found.map((one) => one.replace(/:? cannot be read.*/, " cannot be read"))).toEqual([
    "a.there: one has no place in its sentence",
    "a.missing has no sentence",
    "a.place: {place} is not filled",
    "a.unused is used nowhere",
    "a.kind.card cannot be read",
  ]);
});

it("keys of a page are of its catalogue, with the values that fill them", () => {
  const page = `
    import { t } from "../words/pages/payouts";
    const words = { paid: t("paid") };
    export const Page = () => <p>{t("came-back", { account, of: <b>{sum}</b> })}</p>;`;
  expect(pageKeysIn("page.tsx", page)).toEqual([
    { code: "payouts.paid", values: [] },
    { code: "payouts.came-back", values: ["account", "of"] },
  ]);
  expect(() => pageKeysIn("page.tsx", "const words = t(`state-${state}`);")).toThrow("a key of its own");
});

it("tags in a sentence are places as well", () => {
  const codes = [{ code: "a.linked", values: ["count"] }];
  const found = complaintsAbout(codes, new Map([["a.linked", "<link>All {count}</link>"]]));
  expect(found).toEqual(["a.linked: {link} is not filled"]);
});

it("words that stand in a page itself are complained of, codes and addresses are not", () => {
  const page = `
    const columns = [{ id: "paid", head: "Paid" }, { kind: "when-due", says: "too-late" }];
    export const Page = () => (
      <Box label="Orders" placeholder="https://" className="wide">
        Nothing here <b>{"yet"}</b> · {count} <Zahlung title="Zahlung" />
      </Box>
    );`;
  expect(bareWordsIn("page.tsx", page)).toEqual(
    ["Paid", "Orders", "Nothing here", "yet"].map((words) => `page.tsx says “${words}” by itself`),
  );
});

it("a word of the checkout that a language lacks, has too many, or that no page uses is complained of", () => {
  const en = { go: "Go on", declined: { "wrong-code": "No" }, unused: "?" };
  expect(
    checkoutComplaints(
      { en, de: { go: "Weiter", more: "!", declined: {}, unused: "?" } },
      "words.go words.declined[x]",
    ),
  ).toEqual([
    "checkout unused is used nowhere",
    "checkout declined.wrong-code is missing in de",
    "checkout more is too many in de",
  ]);
});
