import fc from "fast-check";
import { expect, it } from "vitest";
import { colourOf, contrastOf, mixed, READ, readableAgainst } from "./colours";
import {
  accentTrouble,
  groundTrouble,
  type Look,
  lookIn,
  linkOf,
  readLook,
  standing,
  tonesOf,
  usualLook,
} from "./look";

const entry = { corner: "soft", face: "serif", light: "device", terms: "none" };
const logo = { id: "a".repeat(64), width: 200, height: 60 };
const around = { languages: ["de", "en"], logo };
const problems = (change: Record<string, string>) => {
  const reading = readLook({ ...entry, ...change }, around);
  return reading.ok ? [] : reading.problems.map(({ path, code }) => `${path} ${code}`);
};
const hex = fc
  .tuple(fc.integer({ min: 0, max: 255 }), fc.integer({ min: 0, max: 255 }), fc.integer({ min: 0, max: 255 }))
  .map((parts) => `#${parts.map((one) => one.toString(16).padStart(2, "0")).join("")}`);

it("knows colours, and reckons their contrast as WCAG does", () => {
  expect(["#ABC", " #0E5A63 ", "red", "#12345", "#0e5a6333", "url(x)"].map(colourOf)).toEqual([
    "#aabbcc",
    "#0e5a63",
    ...[null, null, null, null],
  ]);
  expect(contrastOf("#000000", "#ffffff")).toBe(21);
  // The grey that just holds on white.
  expect(contrastOf("#767676", "#ffffff")).toBeGreaterThanOrEqual(READ);
  expect(contrastOf("#777777", "#ffffff")).toBeLessThan(READ);
  expect(mixed("#000000", "#ffffff", 0.5)).toBe("#808080");
});

it("whatever the accent, every shopper can read it, in either light, and what is written on it", () => {
  fc.assert(
    fc.property(hex, hex, fc.constantFrom("device", "light", "dark"), (accent, ground, light) => {
      const look = { ...usualLook, accent, ground, light } as Look;
      if (groundTrouble(look)) return;
      const tones = tonesOf(look);
      for (const lit of ["light", "dark"] as const) {
        const { paper, accent: shown, accentSoft, onAccent } = tones[lit];
        expect(contrastOf(shown, standing[lit].sheet)).toBeGreaterThanOrEqual(READ);
        expect(contrastOf(onAccent, shown)).toBeGreaterThanOrEqual(READ);
        expect(contrastOf(standing[lit].ink, accentSoft)).toBeGreaterThanOrEqual(READ);
        expect(contrastOf(standing[lit].soft, paper)).toBeGreaterThanOrEqual(READ);
      }
    }),
  );
});

it("a colour that holds stays itself; of others the nearest that holds is proposed, and then holds", () => {
  fc.assert(
    fc.property(hex, (colour) => {
      const near = readableAgainst(colour, ["#ffffff"]);
      expect(near).not.toBeNull();
      expect(contrastOf(near ?? "", "#ffffff")).toBeGreaterThanOrEqual(READ);
      if (contrastOf(colour, "#ffffff") >= READ) expect(near).toBe(colour);
      const trouble = accentTrouble({ ...usualLook, accent: colour });
      if (trouble?.instead) expect(accentTrouble({ ...usualLook, accent: trouble.instead })).toBeNull();
    }),
  );
  expect(readableAgainst("#808080", ["#000000", "#ffffff", "#808080"])).toBeNull();
});

it("reads what is typed, and says at its field what is wrong", () => {
  const reading = readLook(
    {
      ...{ ...entry, accent: "#7A1FA2", terms: "required", receipts: "yes", phone: "+49 221 5550 (12)" },
      ...{ "terms-de": "https://shop.example/agb", "privacy-en": "http://shop.example/privacy?x=1" },
      email: "hilfe@shop.example",
    },
    around,
  );
  expect(reading).toEqual({
    ok: true,
    value: {
      ...{ ...usualLook, corner: "soft", face: "serif", accent: "#7a1fa2", logo, receipts: true },
      terms: { how: "required", links: { de: "https://shop.example/agb" } },
      privacy: { en: "http://shop.example/privacy?x=1" },
      support: { email: "hilfe@shop.example", phone: "+49 221 5550 (12)", page: "" },
    },
  });
  expect(problems({ accent: "violet", ground: "#fff;}" })).toEqual([
    "accent look.no-colour",
    "ground look.no-colour",
  ]);
  expect(problems({ accent: "#ffd400" })).toEqual(["accent look.hard-to-read"]);
  expect(problems({ ground: "#223344" })).toEqual(["ground look.hard-to-read"]);
  expect(problems({ ground: "#223344", light: "dark" })).toEqual([]);
  expect(problems({ corner: "wavy", face: "", light: "off", terms: "perhaps" })).toEqual([
    "corner look.choose-one",
    "face look.choose-one",
    "light look.choose-one",
    "terms look.choose-one",
  ]);
  expect(problems({ mostShown: "many" })).toEqual(["mostShown look.no-count"]);
  expect(readLook({ ...entry, mostShown: "4" }, around)).toMatchObject({ ok: true, value: { mostShown: 4 } });
  expect(problems({ terms: "told" })).toEqual(["terms-de look.terms-need-a-link"]);
  expect(
    problems({ "privacy-en": "javascript:alert(1)", page: "shop", email: "x", phone: "call us" }),
  ).toEqual(["privacy-en look.no-link", "email look.no-email", "phone look.no-phone", "page look.no-link"]);
});

it("leads nobody to an address that is no page", () => {
  for (const odd of ["javascript:alert(1)", "data:text/html,x", "https://ida:x@shop.example", "/agb", ""])
    expect(linkOf(odd), odd).toBeNull();
  expect(linkOf("https://shop.example/a b")).toBe("https://shop.example/a%20b");
});

it("shows a shopper the texts of their language, or those there are", () => {
  const look: Look = {
    ...usualLook,
    terms: { how: "required", links: { de: "https://shop.example/agb", en: "https://shop.example/terms" } },
    privacy: { de: "https://shop.example/datenschutz" },
  };
  expect(lookIn(look, "en-GB")).toMatchObject({
    terms: { required: true, link: "https://shop.example/terms" },
    privacy: "https://shop.example/datenschutz",
    support: null,
  });
  expect(lookIn({ ...look, terms: { ...look.terms, how: "none" } }, "ja").terms).toBeNull();
  expect(lookIn(usualLook, "de")).toMatchObject({ privacy: null, terms: null, logo: null });
});
