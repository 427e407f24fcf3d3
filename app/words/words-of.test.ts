import { createElement, Fragment, isValidElement, type ReactElement, type ReactNode } from "react";
import { renderToStaticMarkup } from "react-dom/server";
import { expect, it } from "vitest";
import { compiledCatalogue } from "../../scripts/compiled-words.mjs";
import { wordsOf } from "./words-of";

const t = wordsOf(
  compiledCatalogue({
    plain: "Held, not captured",
    named: "Handshake with {provider}",
    escaped: "'{'order'}' becomes what it stands for",
    waits: "{changes, plural, =0 {Nothing waits} one {# change waits} other {# changes wait}} for {person}",
    further: "{count, plural, offset:1 one {you and one other} other {you and # others}}",
    live: "{live, select, yes {Live} other {Test}} key",
    within: "{own, select, yes {You want} other {{person} wants}} it",
    around: "<link>Zones</link> are {what}, and <b>{count} of them</b> new",
    unclosed: "<link>Zones <b>of all</b></link>",
  }) as Record<
    "plain" | "named" | "escaped" | "waits" | "further" | "live" | "within" | "around" | "unclosed",
    string
  >,
);
const drawn = (node: ReactNode) => renderToStaticMarkup(createElement(Fragment, null, node));

it("words without places are said as they are, and places are filled", () => {
  expect(t("plain")).toBe("Held, not captured");
  expect(t("named", { provider: "Ostwick" })).toBe("Handshake with Ostwick");
  expect(t("escaped")).toBe("{order} becomes what it stands for");
});

it.each([
  [0, "Nothing waits for Ida"],
  [1, "1 change waits for Ida"],
  [2, "2 changes wait for Ida"],
])("%i takes its plural form", (changes, words) => {
  expect(t("waits", { changes, person: "Ida" })).toBe(words);
});

it("what is counted without somebody is counted from there", () => {
  expect(t("further", { count: 2 })).toBe("you and one other");
  expect(t("further", { count: 4 })).toBe("you and 3 others");
});

it("one of several wordings is chosen by its name, or the last, and may hold places", () => {
  expect(t("live", { live: "yes" })).toBe("Live key");
  expect(t("live", { live: "no" })).toBe("Test key");
  expect(t("live", { live: null })).toBe("Test key");
  expect(t("within", { own: "no", person: "Jonte" })).toBe("Jonte wants it");
});

it("what is nothing leaves nothing", () => {
  expect(t("named", { provider: null })).toBe("Handshake with ");
  expect(t("named", { provider: false })).toBe("Handshake with ");
});

it("parts of the page stand in their places, and around their part of the sentence, without a warning about keys", () => {
  const said: unknown[] = [];
  const before = console.error;
  console.error = (...words: unknown[]) => void said.push(words);
  try {
    const node = t("around", {
      link: (inner) => createElement("a", { href: "/zones" }, inner),
      what: createElement("em", null, "named once"),
      b: (inner) => createElement("strong", null, inner),
      count: 2,
    });
    expect(isValidElement(node)).toBe(true);
    expect(drawn(node)).toBe(
      '<a href="/zones">Zones</a> are <em>named once</em>, and <strong>2 of them</strong> new',
    );
  } finally {
    console.error = before;
  }
  expect(said).toEqual([]);
});

it("what is put around nothing in particular leaves the words", () => {
  const node = t("unclosed", {
    link: (inner) => createElement("a", null, inner),
    b: "never mind",
  }) as ReactElement;
  expect(drawn(node)).toBe("<a>Zones of all</a>");
});

it("a sentence that is no ICU message fails when it is compiled", () => {
  expect(() => compiledCatalogue({ broken: "{open" })).toThrow();
  expect(() => compiledCatalogue({ broken: "<b>open" })).toThrow();
});
