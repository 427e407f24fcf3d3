import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { housekeeping, threeDays, towardsProvider, waitAfter } from "./back-off";

const DAY = 86_400_000;

/** The times of all tries, from the first on, until it is given up or a number of them is reached. */
function triesOf(policy: Parameters<typeof waitAfter>[0], most: number): number[] {
  const times = [0];
  for (let tries = 1; tries < most; tries++) {
    const age = times.at(-1) ?? 0;
    const wait = waitAfter(policy, tries, age);
    if (wait === null) break;
    times.push(age + wait);
  }
  return times;
}

describe("work that fails", () => {
  it("waits longer after each try, and never less than a moment", () => {
    for (const policy of [towardsProvider, threeDays, housekeeping]) {
      const times = triesOf(policy, 9);
      const waits = times.slice(1).map((at, i) => at - (times[i] ?? 0));
      expect(waits).toEqual([...waits].sort((a, b) => a - b));
      expect(Math.min(...waits)).toBeGreaterThanOrEqual(5_000);
    }
  });

  it("is given up within three days where it may be, and not before two and a half", () => {
    const times = triesOf(threeDays, 1_000);
    expect(times.at(-1)).toBeLessThanOrEqual(3 * DAY);
    expect(times.at(-1)).toBeGreaterThan(2.2 * DAY);
  });

  it("goes on for ever where nobody may give it up", () => {
    expect(triesOf(towardsProvider, 500)).toHaveLength(500);
    fc.assert(
      fc.property(fc.nat(1e6), fc.nat(1e12), (tries, age) => {
        expect(waitAfter(towardsProvider, tries, age)).toBeLessThanOrEqual(1_800_000);
      }),
    );
  });
});
