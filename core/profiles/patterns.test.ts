import { speaking } from "../../scripts/english";
import { describe, expect, it } from "vitest";
import { fits, patternRefused as patternRefusedSaid } from "./patterns";

const patternRefused = speaking(patternRefusedSaid);

describe("a pattern of a profile", () => {
  it("is found in a text, anchored only where it says so", () => {
    expect([fits("b+", "abbc"), fits("^b", "abbc"), fits("^MT[0-9]{5}$", "MT60167")]).toEqual([
      true,
      false,
      true,
    ]);
  });

  it.each(["^(a|a)*$", "^(a+)+$", "^(a|aa)+$", "(x+x+)+y"])("takes %s in linear time", (source) => {
    expect(patternRefused(source)).toBeUndefined();
    const time = (letters: number) => {
      const text = `${"a".repeat(letters)}!`;
      fits(source, text);
      const begun = performance.now();
      for (let n = 0; n < 3; n++) expect(fits(source, text)).toBe(false);
      return performance.now() - begun;
    };
    // What doubles with each letter would not end in the life of this process.
    expect(time(20_000)).toBeLessThan(time(500) * 2_000 + 5_000);
  });

  it.each([
    ["(?=a)b", /RE2 syntax/],
    ["(a)\\1", /RE2 syntax/],
    ["(", /RE2 syntax/],
    ["a".repeat(501), /more than 500/],
  ])("refuses %s, and says why", (source, because) => {
    expect(patternRefused(source)).toMatch(because);
    expect(fits(source, "ab")).toBe(false);
  });
});
