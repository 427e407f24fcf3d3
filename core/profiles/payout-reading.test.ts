import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tell } from "../../scripts/english";
import { amountOf, signedAmountOf } from "./amount";
import { readEvent } from "./event";
import type { ProfileError } from "./expressions";
import type { Profile } from "./profile";
import { readProfile } from "./read-profile";
import { readResponse, type WireResponse } from "./response";

const shipped = (name: string): Profile => {
  const reading = readProfile(JSON.parse(readFileSync(`profiles/${name}.json`, "utf8")));
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.profile;
};
const [karvello, ostwick] = [shipped("karvello"), shipped("ostwick")];
const json = (body: object): WireResponse => ({ status: 200, body: JSON.stringify(body) });
const csv = (body: string, type = "text/csv; charset=utf-8"): WireResponse => ({
  ...{ status: 200, body, headers: [["content-type", type]] },
});
const refused = (asked: Promise<unknown>): Promise<string> =>
  asked.then(
    () => expect.unreachable(),
    (error: ProfileError) => tell(error.says),
  );

describe("payouts in an answer", () => {
  const sending = { no: "K1", coin: "EUR", sum: -250, stand: "landed", day: "2026-11-02T08:00:00Z" };

  it("are read with their state in the provider's word, and may be below nothing", async () => {
    const page = await readResponse(karvello, "listPayouts", json({ sendings: [sending], more: "K1" }));
    expect(page).toEqual({
      ok: true,
      value: {
        payouts: [{ id: "K1", currency: "EUR", amount: -250, state: "landed", at: Date.UTC(2026, 10, 2, 8) }],
        next: "K1",
      },
    });
    expect(await readResponse(karvello, "listPayouts", json({ sendings: [], more: null }))).toEqual({
      ok: true,
      value: { payouts: [] },
    });
  });

  it("say what is missing of them", async () => {
    const read = (change: object) =>
      refused(readResponse(karvello, "listPayouts", json({ sendings: [{ ...sending, ...change }] })));
    expect(await read({ no: null })).toMatch(/payouts\[0\]\.id/);
    expect(await read({ sum: "much" })).toMatch(/"much" for payouts\[0\]\.amount/);
    expect(await read({ day: null })).toMatch(/payouts\[0\]\.at/);
    expect(await read({ coin: "KITES" })).toMatch(/names no currency/);
  });

  it("are told of by an event of their own kind", async () => {
    const event = { tell: "sending.made", at: "2026-11-02T08:00:00Z", about: { no: "K1" } };
    expect(await readEvent(karvello, JSON.stringify(event))).toEqual({
      kind: "payout",
      name: "sending.made",
    });
  });
});

describe("what a payout is made of", () => {
  const line = { no: "S1T1", what: "taken", slip: "S1", your_ref: "r1", sum: 5000, coin: "GBP" };
  const head = "LINE;ORDER;YOURREF;TYPE;CURRENCY;GROSS;PAIDIN;FEE;NET";
  const rows = (count: number) =>
    Array.from({ length: count }, (_, i) => `L${i};OW${i};r${i};PURCHASE;EUR;24.90;EUR;0.36;24.54`);

  it("is in two currencies where it was converted", async () => {
    const lines = [{ ...line, paid_in: "EUR", fee: 90, net: 5760 }];
    expect(await readResponse(karvello, "readPayout", json({ lines, more: null }))).toEqual({
      ok: true,
      value: {
        entries: [
          {
            ...{ id: "S1T1", kind: "taken", ref: "S1", reference: "r1", currency: "GBP", amount: 5000 },
            ...{ settled: "EUR", fee: 90, net: 5760 },
          },
        ],
      },
    });
  });

  it("is read from a file, however long, with a mark in front and cells in quotation marks", async () => {
    const file = `\ufeff${head}\r\n"A;1";OW1;"say ""r1""";CREDIT;EUR;-24.90;EUR;0.00;-24.90\r\n${rows(950).join("\r\n")}\r\n`;
    const read = await readResponse(ostwick, "readPayout", csv(file));
    if (!read.ok) throw new Error("not read");
    expect(read.value.entries).toHaveLength(951);
    expect(read.value.entries[0]).toMatchObject({ id: "A;1", reference: 'say "r1"', amount: -2490, fee: 0 });
    expect(read.value.entries[950]).toMatchObject({ id: "L949", amount: 2490, fee: 36, net: 2454 });
    expect(await readResponse(ostwick, "readPayout", csv(head))).toMatchObject({ value: { entries: [] } });
  });

  it("is refused where a file is too long, lacks a column, or is none", async () => {
    expect(
      await refused(readResponse(ostwick, "readPayout", csv([head, ...rows(20_001)].join("\n")))),
    ).toMatch(/more than 20,000 rows/);
    expect(await refused(readResponse(ostwick, "readPayout", csv("LINE;ORDER\nL1;OW1")))).toMatch(
      /names no currency/,
    );
    const form = (fields: Record<string, string>): WireResponse => ({
      ...{ status: 200, body: new URLSearchParams(fields).toString() },
      headers: [["content-type", "application/x-www-form-urlencoded"]],
    });
    expect(
      await readResponse(ostwick, "readPayout", form({ RESULT: "E43", MESSAGE: "no such statement" })),
    ).toMatchObject({ ok: false, problem: { code: "E43", text: "no such statement" } });
    // Neither a file nor a refusal: nothing is taken for an empty statement.
    const odd = await refused(readResponse(ostwick, "readPayout", form({ RESULT: "00" })));
    expect(odd).toMatch(/csv/i);
  });
});

describe("an amount that may be below nothing", () => {
  it("is the amount with its sign, in either writing", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 10_000_000 }), (minor) => {
        expect(signedAmountOf(-minor, "EUR", { amounts: "minor" })).toBe(-minor);
        expect(signedAmountOf(minor, "EUR", { amounts: "minor" })).toBe(
          amountOf(minor, "EUR", { amounts: "minor" }),
        );
        const text = `-${(minor / 100).toFixed(2)}`;
        expect(signedAmountOf(text, "EUR", { amounts: "decimal" })).toBe(-minor);
      }),
    );
    expect([
      signedAmountOf("--1", "EUR", { amounts: "minor" }),
      signedAmountOf("1-", "EUR", { amounts: "decimal" }),
    ]).toEqual([null, null]);
    expect(Object.is(signedAmountOf("-0.00", "EUR", { amounts: "decimal" }), 0)).toBe(true);
  });
});
