import { describe, expect, it } from "vitest";
import { readVolume } from "#core/costs/read-volume";
import type { FeeSchedule } from "#core/profiles/profile";
import { feesFrom } from "./fees-form";
import { readOrders } from "./order-file";
import { volumeFrom } from "./volume-form";

const form = (fields: Record<string, string>) => {
  const made = new FormData();
  for (const [name, value] of Object.entries(fields)) made.set(name, value);
  return made;
};

describe("a file of orders", () => {
  it("is read by its column of totals, whatever parts the columns and the decimals", () => {
    const counted = {
      ok: true,
      counted: [
        [1250, 1],
        [4390, 2],
      ],
    };
    expect(readOrders("order,total\nA1,43.90\nA2,12.50\nA3,43.90\n", "EUR", "en-GB")).toEqual(counted);
    expect(
      readOrders("Nr;Betrag;Ort\n1;43,90 €;Binz\n2;12,50 €;Sellin\n3;43,90 €;Göhren", "EUR", "en-GB"),
    ).toEqual(counted);
    expect(readOrders("43.90\n12.50\n43.90", "EUR", "en-GB")).toEqual(counted);
    expect(readOrders('no,"Order total"\n1,500\n', "JPY", "en-GB")).toEqual({
      ok: true,
      counted: [[500, 1]],
    });
  });

  it("is refused with the row that cannot be read", () => {
    expect(readOrders("order,total\nA1,43.90\nA2,many", "EUR", "en-GB")).toEqual({
      ok: false,
      says: "Row 3 has no amount of EUR: “many”.",
    });
    expect(readOrders("order,total\nA1,43.905", "EUR", "en-GB")).toMatchObject({ ok: false });
    expect(readOrders("a,b\nx,y", "EUR", "en-GB")).toMatchObject({
      ok: false,
      says: expect.stringMatching(/No column of totals/) as string,
    });
    expect(readOrders("", "EUR", "en-GB")).toEqual({ ok: false, says: "The file is empty." });
    expect(readOrders("total\n0.00", "EUR", "en-GB")).toEqual({
      ok: false,
      says: "The file holds no orders.",
    });
  });
});

describe("what is typed of a volume", () => {
  const typed = {
    orders: "300",
    low: "15,00",
    high: "180",
    "share-card": "70",
    "share-instalments": "12,5",
    foreign: "8",
    platform: "1.5",
    "platform-fixed": "0.10",
    counted: "",
  };

  it("is read as people write it", () => {
    const reading = readVolume(volumeFrom(form(typed), "EUR", "en-GB"));
    expect(reading).toMatchObject({
      ok: true,
      value: {
        totals: { kind: "spread", low: 1500, high: 18_000 },
        shares: { card: 70, instalments: 12.5 },
        refunds: 0,
        platform: { percent: 1.5, fixed: { EUR: 10 } },
      },
    });
  });

  it("is refused beside what is wrong, and real orders that are malformed with it", () => {
    for (const [change, name] of [
      [{ orders: "many" }, "orders"],
      [{ low: "x" }, "low"],
      [{ counted: "{" }, "totals"],
      [{ counted: '{"kind":"orders","counted":[["a",1]]}' }, "totals"],
    ] as const) {
      const reading = readVolume(volumeFrom(form({ ...typed, ...change }), "EUR", "en-GB"));
      const paths = reading.ok ? [] : reading.problems.map((one) => one.path.split(".")[0]);
      expect(paths, name).toContain(name);
    }
  });
});

describe("fees that were agreed on", () => {
  const schedule: FeeSchedule = {
    monthly: { EUR: 1490, GBP: 1290 },
    oneOff: {},
    methods: [
      {
        method: "card",
        percent: 1,
        fixed: { EUR: 12 },
        minimum: { EUR: 15 },
        cap: {},
        foreign: { percent: 1.5, fixed: {} },
        conversion: 2,
        tiers: [],
        refund: {},
        refundReturnsFee: false,
        dispute: {},
      },
    ],
  };
  const typed = {
    monthly: "9,90",
    oneOff: "",
    "card-percent": "0,8",
    "card-fixed": "0.10",
    "card-minimum": "",
    "card-foreign": "1.5",
    "card-conversion": "2",
  };

  it("take the place of the profile's in one currency, and leave the others", () => {
    const read = feesFrom(form(typed), schedule, "EUR", "en-GB");
    if (!read.ok) throw new Error(read.says);
    expect(read.schedule.monthly).toEqual({ EUR: 990, GBP: 1290 });
    expect(read.schedule.methods[0]).toMatchObject({
      percent: 0.8,
      fixed: { EUR: 10 },
      minimum: {},
      foreign: { percent: 1.5 },
    });
  });

  it("may step down by tiers: one is added, changed, or taken away", () => {
    const tier = { "card-tier-0-from": "5000", "card-tier-0-percent": "0,6", "card-tier-0-fixed": "0.08" };
    const read = feesFrom(form({ ...typed, ...tier }), schedule, "EUR", "en-GB");
    if (!read.ok) throw new Error(read.says);
    expect(read.schedule.methods[0]?.tiers).toEqual([
      { from: { EUR: 500_000 }, percent: 0.6, fixed: { EUR: 8 } },
    ]);
    const none = feesFrom(form({ ...typed, "card-tier-0-from": "" }), read.schedule, "EUR", "en-GB");
    expect(none.ok && none.schedule.methods[0]?.tiers).toEqual([]);
  });

  it("are refused in words", () => {
    expect(feesFrom(form({ ...typed, "card-fixed": "ten" }), schedule, "EUR", "en-GB")).toEqual({
      ok: false,
      says: "“ten” is no amount of EUR.",
    });
    expect(feesFrom(form({ ...typed, "card-percent": "120" }), schedule, "EUR", "en-GB")).toEqual({
      ok: false,
      says: "“120” is no percentage.",
    });
  });
});
