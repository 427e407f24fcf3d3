import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { nextStep, ON_ITS_WAY, type Seen } from "./next-step";
import { askOutcomes, lookOutcomes, outcomeOfRefusal, showsIn } from "./operation";

const fresh: Seen = {
  idempotent: true,
  askable: true,
  canLookUp: true,
  asks: 0,
  asked: null,
  looks: 0,
  looked: null,
  age: 0,
  retryAfter: null,
};
const after = (change: Partial<Seen>) => nextStep({ ...fresh, asks: 1, ...change });

describe("the next step of an operation", () => {
  it("asks, and ends with a clear answer", () => {
    expect(nextStep(fresh)).toEqual({ do: "ask", after: 0 });
    expect(after({ asked: "answered" })).toEqual({ do: "end", as: "done" });
    expect(after({ asked: "refused" })).toEqual({ do: "end", as: "refused" });
  });

  it("looks up what a silence, or a process that is gone, left open", () => {
    expect(after({ asked: "silence" })).toEqual({ do: "look-up", after: 0 });
    expect(after({ asked: null })).toEqual({ do: "look-up", after: 0 });
    expect(after({ asked: "silence", looks: 1, looked: "there" })).toEqual({ do: "end", as: "done" });
    expect(after({ asked: "silence", looks: 1, looked: "silence" })).toMatchObject({ do: "look-up" });
  });

  it("asks again only a provider that recognises the repetition", () => {
    const nothingSeen = { asked: "silence", looks: 1, looked: "absent" } as const;
    expect(after(nothingSeen)).toEqual({ do: "ask", after: 0 });
    expect(after({ ...nothingSeen, idempotent: false })).toMatchObject({ do: "look-up" });
    expect(after({ ...nothingSeen, idempotent: false, age: ON_ITS_WAY + 1 })).toEqual({
      do: "end",
      as: "nothing",
    });
    expect(after({ ...nothingSeen, askable: false, age: ON_ITS_WAY + 1 })).toEqual({
      do: "end",
      as: "nothing",
    });
  });

  it("leaves to a person what can be neither looked up nor repeated", () => {
    expect(after({ asked: "silence", canLookUp: false, idempotent: false })).toEqual({ do: "ask-person" });
    expect(after({ asked: "silence", canLookUp: false })).toMatchObject({ do: "ask" });
  });

  it("waits as long as a busy provider wants, and asks then whether or not it recognises repetitions", () => {
    expect(after({ asked: "busy", retryAfter: 7_000, idempotent: false })).toEqual({
      do: "ask",
      after: 7_000,
    });
    expect(after({ asked: "busy" })).toEqual({ do: "ask", after: 1_000 });
  });

  it("takes a refusal with an unknown code for a refusal, and a fault for a silence", () => {
    expect(outcomeOfRefusal("refused")).toBe("refused");
    expect(outcomeOfRefusal("too-many-requests")).toBe("busy");
    expect(outcomeOfRefusal("provider-fault")).toBe("silence");
  });

  it("moves money once at most, whatever is lost, doubled or late on the way, and says what it does not know", () => {
    const world = fc.record({
      idempotent: fc.boolean(),
      askable: fc.boolean(),
      canLookUp: fc.boolean(),
      // For each asking: whether it arrives, when it takes effect (looks later), and what comes back.
      asks: fc.array(
        fc.record({
          arrives: fc.boolean(),
          late: fc.integer({ min: 0, max: 3 }),
          heard: fc.boolean(),
        }),
        { minLength: 20, maxLength: 20 },
      ),
      looks: fc.array(fc.boolean(), { minLength: 40, maxLength: 40 }),
    });
    fc.assert(
      fc.property(world, ({ idempotent, askable, canLookUp, asks, looks }) => {
        const keys = new Set<string>();
        let [moved, turn] = [0, 0];
        const coming: number[] = [];
        let seen: Seen = { ...fresh, idempotent, askable, canLookUp };
        for (let step = nextStep(seen); ; step = nextStep(seen)) {
          if (step.do === "end" || step.do === "ask-person") {
            if (step.do === "end" && step.as === "done") expect(moved + coming.length).toBeGreaterThan(0);
            break;
          }
          expect((turn += 1)).toBeLessThan(200);
          seen = { ...seen, age: seen.age + step.after };
          // What was on its way arrives before it can be given up.
          if (seen.age > ON_ITS_WAY) moved += coming.splice(0).length;
          if (step.do === "ask") {
            const { arrives, late, heard } = asks[seen.asks % asks.length] ?? {
              arrives: true,
              late: 0,
              heard: true,
            };
            const repeated = idempotent && keys.size > 0;
            if (arrives && !repeated) {
              keys.add("one");
              if (late > 0) coming.push(late);
              else moved += 1;
            }
            seen = {
              ...seen,
              asks: seen.asks + 1,
              asked: arrives && heard ? "answered" : "silence",
              looks: 0,
              looked: null,
            };
          } else {
            coming.forEach((_, i) => (coming[i] = (coming[i] ?? 1) - 1));
            while (coming[0] !== undefined && coming[0] <= 0) {
              coming.shift();
              moved += 1;
            }
            const heard = looks[seen.looks % looks.length] === true || seen.looks > 30;
            seen = {
              ...seen,
              looks: seen.looks + 1,
              looked: !heard ? "silence" : moved > 0 ? "there" : "absent",
            };
          }
        }
        expect(moved + coming.length).toBeLessThanOrEqual(1);
        const last = nextStep(seen);
        if (last.do === "end" && last.as === "nothing") expect(moved + coming.length).toBe(0);
      }),
    );
  });

  it("knows every outcome", () => {
    for (const asked of [...askOutcomes, null])
      for (const looked of [...lookOutcomes, null])
        for (const idempotent of [true, false])
          expect(after({ asked, looked, idempotent, looks: looked ? 1 : 0 }).do).toMatch(/ask|look-up|end/);
  });
});

describe("what has moved", () => {
  const before = { captured: 0, released: 0, returned: 300 };
  it("shows an operation that was carried out, also one that failed later", () => {
    expect(showsIn("refund", 200, before, { ...before, returned: 500 })).toBe(true);
    expect(showsIn("refund", 200, before, before)).toBe(false);
    expect(showsIn("capture", 200, before, { ...before, captured: 199 })).toBe(false);
    expect(showsIn("void", 200, before, { ...before, released: 200 })).toBe(true);
  });
});
