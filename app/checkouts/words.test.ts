import { describe, expect, it } from "vitest";
import { declineReasons } from "#core/payments/facts";
import { wordsFor } from "./words";

/** Every sentence with its place. */
function sentences(words: object, place = ""): [string, string][] {
  return Object.entries(words).flatMap(([name, value]) =>
    typeof value === "string"
      ? [[`${place}${name}`, value] as [string, string]]
      : sentences(value as object, `${name}.`),
  );
}
const languages = { en: wordsFor("en"), de: wordsFor("de") };

describe("the shopper's words", () => {
  it("are there in each language, for the same things", () => {
    expect(sentences(languages.de).map(([place]) => place)).toEqual(
      sentences(languages.en).map(([place]) => place),
    );
    for (const [place, text] of [...sentences(languages.de), ...sentences(languages.en)])
      expect(text.trim(), place).not.toBe("");
  });

  it("differ from language to language, but for what both call the same", () => {
    const same = sentences(languages.en).filter(([place, text]) =>
      sentences(languages.de).some(([other, words]) => other === place && words === text),
    );
    expect(same.map(([place]) => place)).toEqual(["test"]);
  });

  it("say of every refusal what a shopper can do, and never that somebody suspects them", () => {
    for (const words of Object.values(languages)) {
      expect(Object.keys(words.declined).sort()).toEqual([...declineReasons].sort());
      expect(words.declined["suspected-fraud"]).not.toMatch(/fraud|suspect|Betrug|Verdacht/i);
    }
  });

  it("are chosen by the language, whatever the region; English where it is not spoken here", () => {
    expect(wordsFor("de-AT")).toBe(languages.de);
    expect(wordsFor("en-GB")).toBe(languages.en);
    for (const other of ["fr", "", "x-klingon", "den"]) expect(wordsFor(other)).toBe(languages.en);
  });
});
