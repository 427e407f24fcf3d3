import * as yup from "yup";
import { isCurrency } from "../money/currencies";
import { methodKinds } from "../profiles/profile";
import { type Problem, problem, type Reading } from "../said";
import { readAs } from "../validated";
import type { Volume } from "./volume";

const LARGEST = 100_000_000_00;
const percent = yup.number().strict().min(0).max(100).required();
const minor = yup.number().strict().integer().min(1).max(LARGEST).required();
const schema = yup.object({
  currency: yup.string().strict().required().test("currency", isCurrency),
  orders: yup.number().strict().integer().min(1).max(10_000_000).required(),
  totals: yup.mixed<Record<string, unknown>>().required(),
  shares: yup.object(Object.fromEntries(methodKinds.map((kind) => [kind, percent.optional()]))).required(),
  foreign: percent,
  refunds: percent,
  disputes: percent,
  platform: yup
    .object({
      percent,
      fixed: yup
        .mixed<Record<string, number>>()
        .required()
        .test(
          "amounts",
          (value) =>
            typeof value === "object" &&
            Object.values(value).every((one) => Number.isSafeInteger(one) && one >= 0 && one <= LARGEST),
        ),
    })
    .required(),
});
const MOST_TOTALS = 20_000;
const counted = yup
  .mixed<[number, number][]>()
  .required()
  .test(
    "counted",
    (value) =>
      Array.isArray(value) &&
      value.length > 0 &&
      value.length <= MOST_TOTALS &&
      value.every(
        (pair) =>
          Array.isArray(pair) &&
          pair.length === 2 &&
          pair.every((one) => Number.isSafeInteger(one) && one > 0 && one <= LARGEST),
      ),
  );
const spread = yup.object({ kind: yup.string().oneOf(["spread"]).required(), low: minor, high: minor });
const orders = yup.object({
  totals: yup
    .object({
      kind: yup.string().oneOf(["orders"]).required(),
      from: yup.string().oneOf(["file", "payments"]).required(),
      counted,
    })
    .required(),
});

/** Reads a shop's volume as it comes from a form. */
export function readVolume(input: unknown): Reading<Volume> {
  const reading = readAs(schema, input);
  if (!reading.ok) return reading;
  const { totals } = reading.value;
  const totalled =
    totals.kind === "spread" ? readAs(spread, totals) : readAs(orders, { totals }, { longest: MOST_TOTALS });
  if (!totalled.ok) return totalled;
  const volume = input as Volume;
  const problems: Problem[] = [];
  if (volume.totals.kind === "spread" && volume.totals.low >= volume.totals.high)
    problems.push(problem("high", "read-volume.tenth-above-below"));
  const shared = Object.values(volume.shares).reduce((sum, part) => sum + part, 0);
  if (shared > 100) problems.push(problem("shares", "read-volume.shares-add-up", { shared }));
  return problems.length > 0 ? { ok: false, problems } : { ok: true, value: volume };
}

/** What a shop is taken to sell until it says otherwise: 300 orders from 15 to 180 of its currency. */
export const assumedVolume = (currency: string, places: number): Volume => ({
  currency,
  orders: 300,
  totals: {
    kind: "spread",
    low: 15 * 10 ** places * (places === 0 ? 100 : 1),
    high: 180 * 10 ** places * (places === 0 ? 100 : 1),
  },
  shares: { card: 70, "account-wallet": 20, instalments: 10 },
  foreign: 8,
  refunds: 4,
  disputes: 0.2,
  platform: { percent: 0, fixed: {} },
});
