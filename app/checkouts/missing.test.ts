import { describe, expect, it } from "vitest";
import mine from "../words/mine.json";
import words from "../words/missing.json";
import { isOverNow, leadsNowhere, wished } from "./missing.server";
import { spokenHere } from "./words.server";

const asks = (accepts?: string) =>
  new Request("http://shop.test/pay/x", {
    headers: accepts === undefined ? {} : { "accept-language": accepts },
  });

describe("what a shopper reads whose address leads nowhere", () => {
  it("is there in every language of the checkout, in words of its own", () => {
    expect(Object.keys(words).sort()).toEqual(Object.keys(spokenHere).sort());
    const all = Object.values(words).flatMap(({ title, says }) => [title, says]);
    expect(new Set(all).size).toBe(2 * Object.keys(spokenHere).length);
  });

  it.each([
    ["de-AT,de;q=0.9,en;q=0.8", "de"],
    ["sv, ja;q=0.4, fr;q=0.6", "fr"],
    ["DA", "da"],
    ["*", "en"],
    ["sv", "en"],
    ["pl;q=0", "en"],
    ["toString, constructor", "en"],
    ["", "en"],
    [";;q=,,", "en"],
    [undefined, "en"],
  ])("is said in what the browser wishes: %s", (accepts, language) => {
    expect(wished(asks(accepts), Object.keys(words))).toBe(language);
    const { data, init } = leadsNowhere(asks(accepts));
    expect(data).toEqual({ language, ...words[language as keyof typeof words] });
    expect(init?.status).toBe(404);
  });

  it("says of a page that is over that it is over", () => {
    const { data, init } = isOverNow(asks("nl"));
    expect(data).toEqual({ language: "nl", title: mine.nl.over });
    expect(init?.status).toBe(410);
  });
});
