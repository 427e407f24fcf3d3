import { describe, expect, it } from "vitest";
import {
  type ButtonSettings,
  type ButtonTerms,
  buttonView,
  isAllowed,
  isButton,
  plainButton,
} from "./button";

const terms: ButtonTerms = {
  labels: ["pay", "name"],
  shapes: ["round"],
  colours: [
    { id: "dusk", label: "Dusk", ground: "#101010", ink: "#fefefe" },
    { id: "dawn", label: "Dawn", ground: "#ffeedd", ink: "#112233" },
  ],
};
const settings: ButtonSettings = {
  ...{ places: ["product"], label: "pay", shape: "round", size: "large", colour: "dawn", lastLook: "shop" },
};

describe("a button's settings", () => {
  it("begin as the provider names things first, and nowhere", () => {
    expect(plainButton(terms)).toEqual({
      ...{ places: [], label: "pay", shape: "round", size: "usual", colour: "dusk", lastLook: "here" },
    });
  });

  it.each([
    ["no places", { places: [] }],
    ["a place twice", { places: ["basket", "basket"] }],
    ["a place that is none", { places: ["home"] }],
    ["a size that is none", { size: "huge" }],
    ["a look that is none", { lastLook: "twice" }],
    ["a colour that is no text", { colour: 7 }],
    ["something more", { more: 1 }],
  ])("refuse %s", (_, change) => {
    expect(isButton({ ...settings, ...change })).toBe(false);
  });

  it("are taken as they should be, and held against what the provider allows", () => {
    expect(isButton(settings)).toBe(true);
    expect([null, [], "x"].map(isButton)).toEqual([false, false, false]);
    expect(isAllowed(settings, terms)).toBe(true);
    for (const change of [{ label: "buy" }, { shape: "square" }, { colour: "noon" }] as const)
      expect(isAllowed({ ...settings, ...change }, terms)).toBe(false);
  });

  it("are drawn in the colours of the profile, and in its first where one was taken away", () => {
    const words = { language: "de", direction: "ltr", text: "T", trouble: "Oh" } as const;
    const facts = { offer: "o", name: "N", settings, terms };
    expect(buttonView(facts, words)).toMatchObject({
      offer: "o",
      ground: "#ffeedd",
      ink: "#112233",
      size: "large",
    });
    const gone = { ...facts, settings: { ...settings, colour: "noon" } };
    expect(buttonView(gone, words)).toMatchObject({ ground: "#101010" });
  });
});
