import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, it } from "vitest";
import { said } from "#core/said";
import { codesIn } from "../../scripts/words.mjs";
import en from "./en";
import { offering } from "./offering";

const root = join(import.meta.dirname, "../..");

it("every file of the catalogue is spoken", () => {
  const files = readdirSync(join(root, "app/words/en")).map((name) => name.replace(/\.json$/, ""));
  expect(Object.keys(en).sort()).toEqual(files.sort());
});

it("the sheet of an offer brings along every sentence that it may need while one types", () => {
  const { say } = offering("en");
  for (const file of ["core/offers/decide.ts", "core/offers/statement.ts", "app/offers/draft.ts"])
    for (const one of codesIn(file, readFileSync(join(root, file), "utf8"))) {
      if (!("code" in one)) throw new Error(`${file} makes a code of its own`);
      const values = Object.fromEntries((one.values ?? []).map((name) => [name, "1"]));
      expect(say(said(one.code, values)), one.code).not.toMatch(/^[a-z-]+\.[a-z-]+/);
    }
});
