import { expect, it } from "vitest";
import catalogue from "../words/buy.json";

it("the page of a purchase says everything in every language, with the wallet's name where it stands", () => {
  const { en } = catalogue;
  for (const [language, words] of Object.entries(catalogue)) {
    expect(Object.keys(words), language).toEqual(Object.keys(en));
    for (const [key, text] of Object.entries(words)) {
      expect(text.trim(), `${language} ${key}`).not.toBe("");
      expect(text.includes("{name}"), `${language} ${key}`).toBe(
        en[key as keyof typeof en].includes("{name}"),
      );
      if (language !== "en" && key !== "contact") expect(text).not.toBe(en[key as keyof typeof en]);
    }
  }
});
