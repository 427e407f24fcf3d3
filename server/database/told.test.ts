import { afterEach, beforeEach, expect, it } from "vitest";
import { said, type Told, verbatim } from "#core/said";
import { keepExchange } from "../exchanges/exchanges";
import { openTestRuntime, type TestRuntime } from "../test-runtime";
import { exchanges } from "./schema";

let world: TestRuntime;
beforeEach(async () => {
  world = await openTestRuntime();
});
afterEach(() => world.close());

it.each<[string, Told]>([
  ["a code with its values", said("wire.time-out", { who: said("wire.it") })],
  ["plain words of before", "read the account"],
  ["words of somebody else that look like something of ours", '{"code": no JSON at all'],
  ["an answer of somebody else that is JSON", '{"code":"E21","text":"No"}'],
])("%s is read as it was kept", async (_, label) => {
  const exchange = { at: 1, from: "zahlung", to: "provider", mode: "test", ok: true } as const;
  await keepExchange(world.rt, { ...exchange, label });
  const [row] = await world.rt.db.orm.select().from(exchanges);
  expect(row?.label).toEqual(label);
});

it("words of somebody else that are just like a code of ours are told as words", async () => {
  const label = '{"code":"sentences","values":{}}';
  const exchange = { at: 1, from: "zahlung", to: "provider", mode: "test", ok: true } as const;
  await keepExchange(world.rt, { ...exchange, label });
  const [row] = await world.rt.db.orm.select().from(exchanges);
  expect(row?.label).toEqual(verbatim(label));
});
