import { readFileSync } from "node:fs";
import { gzipSync } from "node:zlib";
import { describe, expect, it } from "vitest";
import { embedScript } from "../../scripts/embed.mjs";

const served = readFileSync("public/embed/v1.js", "utf8");

describe("the script for shops' own pages", () => {
  it("is made of its source as it stands (renew it with: node scripts/embed.mjs)", async () => {
    expect(await embedScript()).toBe(served);
  }, 60_000);

  it("is small, whole, and writes no markup from texts", () => {
    expect(gzipSync(served).length).toBeLessThan(12_000);
    expect(served).not.toMatch(
      /\bimport\b|\brequire\b|\beval\b|innerHTML|insertAdjacentHTML|document\.write/,
    );
  });
});
