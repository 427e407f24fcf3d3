import { readdirSync, readFileSync } from "node:fs";
import { gzipSync } from "node:zlib";
import { describe, expect, it } from "vitest";
import { declineReasons } from "#core/payments/facts";
import lost from "../words/lost.json";
import { spokenHere, wordsFor } from "./words.server";

/** Every sentence with its place. */
function sentences(words: object, place = ""): [string, string][] {
  return Object.entries(words).flatMap(([name, value]) =>
    typeof value === "string"
      ? [[`${place}${name}`, value] as [string, string]]
      : sentences(value as object, `${name}.`),
  );
}
const languages = spokenHere;
const en = sentences(wordsFor("en"));

describe("the shopper's words", () => {
  it.each(Object.entries(languages))("are there in %s, for the same things", (language, words) => {
    expect(sentences(words).map(([place]) => place)).toEqual(en.map(([place]) => place));
    for (const [place, text] of sentences(words)) expect(text.trim(), place).not.toBe("");
    expect(Object.keys(lost)).toContain(language);
  });

  it.each(Object.entries(languages).filter(([language]) => language !== "en"))(
    "differ in %s from English, but for what both call the same",
    (_, words) => {
      const same = sentences(words).filter(([place, text]) =>
        en.some(([other, english]) => other === place && english === text),
      );
      expect(same.every(([place]) => ["test", "entries.name"].includes(place))).toBe(true);
    },
  );

  it("name what every test card of a profile that comes along brings about", () => {
    const instruments = readdirSync("profiles").flatMap(
      (file) =>
        (JSON.parse(readFileSync(`profiles/${file}`, "utf8")) as { instruments: { case: string }[] })
          .instruments,
    );
    const cases = new Set(instruments.map((one) => one.case).filter((one) => !one.startsWith("approved-")));
    expect(Object.keys(wordsFor("en").outcomes)).toEqual(expect.arrayContaining([...cases]));
  });

  it("say of every refusal what a shopper can do, and never that somebody suspects them", () => {
    for (const words of Object.values(languages)) {
      expect(Object.keys(words.declined).sort()).toEqual([...declineReasons].sort());
      expect(words.declined["suspected-fraud"]).not.toMatch(
        /fraud|suspect|Betrug|Verdacht|soup[cç]on|sospech|sospett|verdacht|oszust|podejrz|詐欺|不正行為/i,
      );
    }
  });

  it.each(Object.entries(languages))("in %s come to less than 12 kB", (_, words) => {
    expect(gzipSync(JSON.stringify(words)).length).toBeLessThan(12_000);
  });

  it("are chosen by the language, whatever the region; English where it is not spoken here", () => {
    expect(wordsFor("de-AT")).toBe(languages.de);
    expect(wordsFor("ja-JP")).toBe(languages.ja);
    expect(wordsFor("en-GB")).toBe(languages.en);
    for (const other of ["sv", "", "x-klingon", "den", "toString"])
      expect(wordsFor(other)).toBe(languages.en);
  });
});
