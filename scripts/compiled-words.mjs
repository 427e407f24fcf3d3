// Reads the ICU messages of the pages' catalogues when the program is built, so that pages carry no parser: a sentence
// without places stays a text, any other becomes its elements.
import { parse, TYPE } from "@formatjs/icu-messageformat-parser";
import { readFileSync } from "node:fs";

/** A catalogue as pages take it. */
export const compiledCatalogue = (catalogue) =>
  Object.fromEntries(
    Object.entries(catalogue).map(([key, sentence]) => {
      const elements = parse(sentence);
      const plain = elements.every((element) => element.type === TYPE.literal);
      return [key, plain ? elements.map((element) => element.value).join("") : elements];
    }),
  );

/** The plugin of the build for it. */
export const compiledWords = () => ({
  name: "compiled-words",
  enforce: "pre",
  load(id) {
    const file = id.split("?")[0];
    if (!/\/app\/words\/pages\/[a-z]+\/[a-z-]+\.json$/.test(file)) return null;
    this.addWatchFile(file);
    return JSON.stringify(compiledCatalogue(JSON.parse(readFileSync(file, "utf8"))));
  },
});
