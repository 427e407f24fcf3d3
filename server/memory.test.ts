import { describe, expect, it } from "vitest";
import { Memory } from "./memory";

/** A question that is answered when the test says so; each answer counts up. */
function question() {
  const waiting: ((answer: number) => void)[] = [];
  let asked = 0;
  return {
    ask: () => new Promise<number>((answer) => ((asked += 1), waiting.push(answer))),
    answer: (value: number) => waiting.shift()?.(value),
    asked: () => asked,
  };
}
const turn = () => new Promise((resolve) => setImmediate(resolve));

describe("what many ask for at once", () => {
  it("is asked for once at a time, and no answer is older than its question", async () => {
    const memory = new Memory();
    const { ask, answer, asked } = question();
    const first = memory.together("x", ask);
    const later = [memory.together("x", ask), memory.together("x", ask)];
    expect(asked()).toBe(1);
    answer(1);
    expect(await first).toBe(1);
    await turn();
    expect(asked()).toBe(2);
    // The second question is under way: who comes now waits for a third.
    const last = memory.together("x", ask);
    answer(2);
    expect(await Promise.all(later)).toEqual([2, 2]);
    await turn();
    answer(3);
    expect([await last, asked()]).toEqual([3, 3]);
    await turn();
    const anew = memory.together("x", ask);
    answer(4);
    expect([await anew, asked()]).toEqual([4, 4]);
  });

  it("is asked again after a question that failed", async () => {
    const memory = new Memory();
    const failing = memory.together("x", () => Promise.reject(new Error("away")));
    const next = memory.together("x", () => Promise.resolve(7));
    await expect(failing).rejects.toThrow("away");
    expect(await next).toBe(7);
  });
});

describe("what is kept", () => {
  it("is made once for a version, and anew for another; a failure is not kept", async () => {
    const memory = new Memory();
    let made = 0;
    const recall = (version: number) => memory.recall({ name: "s" }, "k", version, async () => (made += 1));
    expect(await Promise.all([recall(1), recall(1), recall(1)])).toEqual([1, 1, 1]);
    expect([await recall(2), await recall(2)]).toEqual([2, 2]);
    const failing = memory.recall({ name: "s" }, "k", 3, () => Promise.reject(new Error("no")));
    await expect(failing).rejects.toThrow("no");
    expect(await recall(3)).toBe(3);
  });
});

describe("what holds until a moment of its own", () => {
  const shelf = { name: "lasting" };

  it("is made once for all who want it, and anew once it is over", async () => {
    const memory = new Memory();
    const { ask, answer, asked } = question();
    const make = () => ask().then((value) => ({ value, until: value * 100 }));
    const first = [1, 2, 3].map((now) => memory.recallUntil(shelf, "x", now, make));
    expect(asked()).toBe(1);
    answer(1);
    expect(await Promise.all(first)).toEqual([1, 1, 1]);
    expect(await memory.recallUntil(shelf, "x", 99, make)).toBe(1);
    const anew = [100, 150, 101].map((now) => memory.recallUntil(shelf, "x", now, make));
    await turn();
    expect(asked(), "by the first who finds it over").toBe(2);
    answer(2);
    expect(await Promise.all(anew)).toEqual([2, 2, 2]);
    expect(await memory.recallUntil({ name: "other" }, "x", 0, async () => ({ value: 9, until: 1 }))).toBe(9);
  });

  it("is not remembered where it failed", async () => {
    const memory = new Memory();
    const fails = () => Promise.reject(new Error("away"));
    await expect(memory.recallUntil(shelf, "x", 0, fails)).rejects.toThrow("away");
    expect(await memory.recallUntil(shelf, "x", 0, async () => ({ value: 7, until: 1 }))).toBe(7);
  });
});
