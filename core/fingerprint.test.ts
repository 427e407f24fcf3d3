import fc from "fast-check";
import { expect, it } from "vitest";
import { changedParts, fingerprint, fingerprintParts } from "./fingerprint";

it("follows RFC 8785: key order and number writing do not matter", () => {
  expect(fingerprint({ b: 1.0, a: "€" })).toBe(fingerprint(JSON.parse('{"a":"\\u20ac","b":1e0}')));
  // The RFC's own sample (section 3.2.2), and the SHA-256 of the canonical text it gives for it.
  const sample = String.raw`{
    "numbers": [333333333.33333329, 1E30, 4.50, 2e-3, 0.000000000000000000000000001],
    "string": "\u20ac$\u000F\u000aA'\u0042\u0022\u005c\\\"\/",
    "literals": [null, true, false]
  }`;
  expect(fingerprint(JSON.parse(sample))).toBe(
    "2d5e01a318d0f0879ab568c4be289c8b1f64ef8921a53c6277d5e069978baacb",
  );
});

it("tells values apart and ignores the order of keys, whatever they are", () => {
  fc.assert(
    fc.property(fc.dictionary(fc.string(), fc.jsonValue()), (record) => {
      const turned = Object.fromEntries(Object.entries(record).reverse());
      expect(fingerprint(turned)).toBe(fingerprint(record));
      expect(fingerprint({ ...record, "one more": 1 })).not.toBe(fingerprint({ ...record, "one more": 2 }));
    }),
  );
});

it("names the settings that changed", () => {
  const then = fingerprintParts({ keys: "set-1", capture: "at-once", webhook: "w1" });
  expect(changedParts(then, fingerprintParts({ keys: "set-1", capture: "at-once", webhook: "w1" }))).toEqual(
    [],
  );
  expect(changedParts(then, fingerprintParts({ keys: "set-2", capture: "later", webhook: "w1" }))).toEqual([
    "capture",
    "keys",
  ]);
  expect(changedParts(then, fingerprintParts({ keys: "set-1", capture: "at-once" }))).toEqual(["webhook"]);
});
