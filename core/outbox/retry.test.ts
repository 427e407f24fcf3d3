import { expect, it } from "vitest";
import { newsWait } from "./retry";

it("waits longer each time, begins within seconds, and gives up after three days", () => {
  const waits: number[] = [];
  for (let tries = 0; ; tries++) {
    const wait = newsWait(tries);
    if (wait === null) break;
    waits.push(wait);
  }
  expect(waits[0]).toBeLessThanOrEqual(2_000);
  expect([...waits].sort((a, b) => a - b)).toEqual(waits);
  const days = waits.reduce((sum, wait) => sum + wait, 0) / 86_400_000;
  expect(days).toBeGreaterThan(2);
  expect(days).toBeLessThan(4);
});
