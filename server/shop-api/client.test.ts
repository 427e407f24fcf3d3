import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { shopClient } from "../../scripts/shop-client.mjs";

it("is what the shop client’s types are made of (renew them with: node scripts/shop-client.mjs)", async () => {
  const { file, text } = await shopClient();
  expect(readFileSync(file, "utf8")).toBe(text);
});
