import { speaking } from "../../scripts/english";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { evaluate, expressionLimits, expressionRefused as expressionRefusedSaid } from "./expressions";

const expressionRefused = speaking(expressionRefusedSaid);

describe("an expression of a profile", () => {
  it("maps its input, and nothing else", async () => {
    expect(await evaluate("{'a': x, 'b': [y.{'c': z}]}", { x: 1, y: [{ z: 2 }, { z: 3 }] })).toEqual({
      a: 1,
      b: [{ c: 2 }, { c: 3 }],
    });
    expect(await evaluate("currencies.{'charged': $}", { currencies: ["EUR"] })).toEqual({ charged: "EUR" });
    expect(await evaluate("$uppercase(name)", { name: "möwe" })).toBe("MÖWE");
    expect(await evaluate("missing", {})).toBeUndefined();
    for (const name of ["constructor", "__proto__", "toString", "process", "globalThis"])
      expect(await evaluate(`\`${name}\``, {}), name).toBeUndefined();
  });

  it("is refused when it could run, grow or reach further than its input", () => {
    const refused: Record<string, RegExp> = {
      "$eval('1')": /\$eval/,
      "$map(a, function($x){$x})": /function of its own|\$map/,
      "($f := function($n){$f($n)}; $f(1))": /function of its own|chains/,
      "[1..1000000]": /range/,
      "$match(a, /(a+)+$/)": /\$match|regular expression/,
      "$replace(a, /x/, 'y')": /regular expression/,
      "**.a": /every depth/,
      "$pad('', 1000000000)": /\$pad/,
      "$now()": /\$now/,
      "$random()": /\$random/,
      "a ~> $string": /chains/,
      $other: /\$other/,
      "{": /not JSONata/,
    };
    for (const [source, because] of Object.entries(refused))
      expect(expressionRefused(source), source).toMatch(because);
    expect(expressionRefused("a & ".repeat(2000) + "a")).toMatch(/longer than/);
    expect(expressionRefused(`${"(".repeat(500)}a${")".repeat(500)}`)).toBeDefined();
  });

  it("fails with its source when its input does not fit, instead of breaking", async () => {
    await expect(evaluate("$number(a)", { a: "x" })).rejects.toMatchObject({ code: "expression-failed" });
    await expect(evaluate("a + b", { a: "x", b: 1 })).rejects.toMatchObject({ code: "expression-failed" });
  });

  it("is bounded in what it gathers", async () => {
    const list = Array.from({ length: 300 }, (_, i) => i);
    await expect(evaluate("a.($$.a.($$.a))", { a: list })).rejects.toMatchObject({
      code: "expression-failed",
    });
    expect(expressionLimits.values).toBeLessThan(100_000);
  });

  it("is bounded in its steps, whatever else the machine does meanwhile", async () => {
    const list = Array.from({ length: 3_000 }, (_, i) => i);
    const begun = performance.now();
    await expect(evaluate("$count(a[$ in $$.a[$ > 1]])", { a: list })).rejects.toMatchObject({
      code: "expression-failed",
    });
    expect(performance.now() - begun).toBeLessThan(15_000);
    // One that waits for its turn among many others comes to its end.
    const others = Array.from({ length: 400 }, () => evaluate("$sum(a.($ * 2))", { a: list.slice(0, 200) }));
    expect(new Set(await Promise.all(others))).toEqual(new Set([39_800]));
  });

  it("never throws anything but its own error, whatever it is", async () => {
    await fc.assert(
      fc.asyncProperty(fc.string({ maxLength: 60 }), fc.jsonValue(), async (source, input) => {
        try {
          await evaluate(source, input);
        } catch (error) {
          expect((error as { code?: string }).code).toBe("expression-failed");
        }
      }),
    );
  });
});
