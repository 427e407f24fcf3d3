import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { afterAsking, type Breaker, isLeftAlone, mayAsk, sound } from "./breaker";

const MOST = 3;
const failing = (times: number, from = sound, at = 1_000): Breaker =>
  Array.from({ length: times }).reduce<Breaker>((one) => afterAsking(one, false, at, MOST), from);

describe("a provider in trouble", () => {
  it("is left alone after so many failures in a row, and not before", () => {
    expect(isLeftAlone(failing(2))).toBe(false);
    expect(mayAsk(failing(2), 1_000).may).toBe(true);
    const left = failing(3);
    expect(isLeftAlone(left)).toBe(true);
    expect(mayAsk(left, 1_001).may).toBe(false);
    expect(isLeftAlone(failing(2, afterAsking(failing(2), true, 1_000, MOST)))).toBe(false);
  });

  it("is asked once after its rest, and the others wait for what becomes of that", () => {
    const left = failing(3);
    const first = mayAsk(left, 6_000);
    expect(first.may).toBe(true);
    expect(mayAsk(first.after, 6_001).may).toBe(false);
    expect(afterAsking(first.after, true, 6_500, MOST)).toEqual(sound);
    // It fails again: it rests for longer.
    const again = afterAsking(first.after, false, 16_001, MOST);
    expect(mayAsk(again, 16_001 + 9_999).may).toBe(false);
    expect(mayAsk(again, 16_001 + 10_000).may).toBe(true);
  });

  it("is never left alone for longer than a minute, and answers bring it back at once", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.boolean(), fc.integer({ min: 0, max: 90_000 }))), (steps) => {
        let breaker = sound;
        let now = 0;
        for (const [answered, later] of steps) {
          now += later;
          const asked = mayAsk(breaker, now);
          breaker = asked.after;
          if (!asked.may) continue;
          breaker = afterAsking(breaker, answered, now, MOST);
          expect((breaker.openUntil ?? now) - now).toBeLessThanOrEqual(60_000);
          if (answered) expect(breaker).toEqual(sound);
        }
        expect(mayAsk(breaker, now + 60_000).may).toBe(true);
      }),
    );
  });
});
