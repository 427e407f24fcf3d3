import { describe, expect, it } from "vitest";
import { occurringStates, proposeStages, unmappedStates } from "../payments/stages";
import { defaultLabel, proposeStatement } from "./defaults";
import { checkStatement } from "./statement";

describe("what a new offer is called", () => {
  it("is in the shopper’s language for methods that have a word, and the wallet’s own name for others", () => {
    expect(defaultLabel("card", "Card on a page", "de")).toBe("Karte");
    expect(defaultLabel("card", "Card on a page", "de-AT")).toBe("Karte");
    expect(defaultLabel("card", "Card on a page", "en")).toBe("Card");
    expect(defaultLabel("card", "Card on a page", "cy")).toBe("Card");
    expect(defaultLabel("instalments", "Plan", "de")).toBe("Ratenkauf");
    expect(defaultLabel("account-wallet", "Heronry", "de")).toBe("Heronry");
  });
});

describe("a proposed statement text", () => {
  it.each([
    ["Luvwinkel DE", "LUVWINKEL DE"],
    ["Bücher & Brötchen", "BUCHER & BROTCHEN"],
    ["The Very Long Name Of A Shop For Kites", "THE VERY LONG NAME OF"],
    ["Donaudampfschifffahrtsgesellschaft", "DONAUDAMPFSCHIFFFAHRTS"],
    ["凧屋", ""],
    ["A1", ""],
  ])("of %s is “%s”", (name, text) => {
    expect(proposeStatement(name)).toBe(text);
    expect(checkStatement(text, name).filter((one) => one.blocking)).toEqual([]);
  });
});

describe("proposed stages", () => {
  const states = occurringStates("later", { refund: true, partialRefund: true });

  it("are read from the names that a shop declared", () => {
    const declared = ["Reserved", "Paid: to the loft", "Refused", "Handed back", "Under question"];
    const proposed = proposeStages(states, declared);
    expect(proposed).toMatchObject({
      pending: "Reserved",
      authorised: "Reserved",
      captured: "Paid: to the loft",
      declined: "Refused",
      expired: "Refused",
      refunded: "Handed back",
      "partly-refunded": "Under question",
    });
    expect(unmappedStates(states, proposed, declared)).toEqual([]);
  });

  it("understand other shops’ words, and leave what none resembles", () => {
    expect(proposeStages(states, ["Offen", "Bezahlt", "Storniert", "Erstattet"])).toMatchObject({
      pending: "Offen",
      captured: "Bezahlt",
      cancelled: "Storniert",
      refunded: "Erstattet",
      "partly-refunded": "Erstattet",
    });
    expect(proposeStages(states, ["Unpaid", "Paid"])).toMatchObject({ pending: "Unpaid", captured: "Paid" });
    expect(proposeStages(states, ["Blue", "Green"])).toEqual({});
    expect(proposeStages(["captured"], ["Reserved"])).toEqual({});
  });
});
