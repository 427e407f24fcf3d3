import * as yup from "yup";
import { isCurrency } from "../money/currencies";
import { methodKinds } from "../profiles/profile";
import { validated } from "../validated";
import type { Volume } from "./volume";

const LARGEST = 100_000_000_00;
const percent = yup.number().strict().min(0).max(100).required();
const minor = yup.number().strict().integer().min(1).max(LARGEST).required();
const schema = yup.object({
  currency: yup.string().strict().required().test("currency", "is no currency of ISO 4217", isCurrency),
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
          "is no amount",
          (value) =>
            typeof value === "object" &&
            Object.values(value).every((one) => Number.isSafeInteger(one) && one >= 0 && one <= LARGEST),
        ),
    })
    .required(),
});
const spread = yup.object({ kind: yup.string().oneOf(["spread"]).required(), low: minor, high: minor });

export type VolumeReading = { ok: true; volume: Volume } | { ok: false; problems: Record<string, string> };

/** Reads a shop's volume as it comes from a form; problems by the name of the field, in words. */
export function readVolume(input: unknown): VolumeReading {
  const problems: Record<string, string> = {};
  try {
    validated(schema, input);
    const { totals } = input as { totals: { kind?: unknown; counted?: unknown } };
    if (totals.kind === "spread") validated(spread, totals);
    else if (totals.kind !== "orders" || !isCounted(totals.counted)) problems.totals = "is malformed";
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    for (const one of error.inner.length ? error.inner : [error])
      problems[(one.path ?? "").split(".").at(-1) ?? ""] = one.errors[0] ?? one.message;
  }
  if (Object.keys(problems).length > 0) return { ok: false, problems };
  const volume = input as Volume;
  if (volume.totals.kind === "spread" && volume.totals.low >= volume.totals.high)
    problems.high = "A tenth of the orders cannot be above what a tenth is below.";
  const shared = Object.values(volume.shares).reduce((sum, part) => sum + part, 0);
  if (shared > 100) problems.shares = `The shares add up to ${shared} percent.`;
  return Object.keys(problems).length > 0 ? { ok: false, problems } : { ok: true, volume };
}

const MOST_TOTALS = 20_000;
const isCounted = (value: unknown): boolean =>
  Array.isArray(value) &&
  value.length > 0 &&
  value.length <= MOST_TOTALS &&
  value.every(
    (pair) =>
      Array.isArray(pair) &&
      pair.length === 2 &&
      pair.every((one) => Number.isSafeInteger(one) && (one as number) > 0 && (one as number) <= LARGEST),
  );

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
