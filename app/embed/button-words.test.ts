import { expect, it } from "vitest";
import { walletRefusals } from "#core/buttons/course";
import catalogue from "../words/embed.json";
import { writeButton, writeButtonRefusal } from "./button-words.server";

const terms = {
  ...{ labels: ["buy" as const], shapes: ["soft" as const] },
  colours: [{ id: "a", label: "A", ground: "#000000", ink: "#ffffff" }],
};
const facts = (label: "buy" | "pay" | "name", name = "Purse") => ({
  ...{ offer: "o", name, terms },
  settings: {
    ...{ places: ["product" as const], label, shape: "soft" as const, size: "usual" as const, colour: "a" },
    lastLook: "none" as const,
  },
});

it("a button says what it does in the shopper's language, and takes a name as it is", () => {
  expect(writeButton(facts("buy"), "de-AT")).toMatchObject({ text: "Mit Purse kaufen", language: "de" });
  expect(writeButton(facts("pay"), "ja").text).toBe("Purseで支払う");
  expect(writeButton(facts("name"), "fr").text).toBe("Purse");
  expect(writeButton(facts("buy", "$& {name}"), "en").text).toBe("Buy with $& {name}");
  expect(writeButton(facts("buy"), "ar").direction).toBe("rtl");
  expect(writeButton(facts("buy"), "sv")).toMatchObject({ language: "en", text: "Buy with Purse" });
});

it("every reason that a wallet is told has words of its own in every language", () => {
  for (const language of Object.keys(catalogue)) {
    const said = walletRefusals.map((one) => writeButtonRefusal(one, language));
    expect(new Set(said).size, language).toBe(walletRefusals.length);
    expect(said.every((one) => one.length > 3)).toBe(true);
  }
});
