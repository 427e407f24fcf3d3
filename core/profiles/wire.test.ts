import { tell } from "../../scripts/english";
import type { ProfileError } from "./expressions";
import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { decimalText } from "../money/money";
import { keyedDigest } from "./digest";
import { amountOf, writtenAmount } from "./amount";
import { readEvent } from "./event";
import { instantOf } from "./instant";
import type { Profile } from "./profile";
import { readProfile } from "./read-profile";
import { buildRequest } from "./request";
import { bodyData, readResponse, reviewOf } from "./response";
import { statementsOf } from "./statements";

const shipped = (name: string): Profile => {
  const reading = readProfile(JSON.parse(readFileSync(`profiles/${name}.json`, "utf8")));
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.profile;
};
const around = { now: 1_700_000_000_000, nonce: "n1" };
const order = {
  amount: 2490,
  currency: "EUR",
  capture: "later",
  reference: "r1",
  statement: "LUVWINKEL",
  returnAddress: "http://z.example/back",
  idempotencyKey: "once",
  methodId: "wallet",
};

describe("a request", () => {
  it("by HTTP Basic carries name and password (RFC 7617), and decimal amounts", async () => {
    const credentials = { "house-name": "Aladdin", "house-password": "open sesame", "letter-secret": "x" };
    const wire = await buildRequest(shipped("ratenhaus"), "test", "create", order, credentials, around);
    expect(wire.headers.authorization).toBe("Basic QWxhZGRpbjpvcGVuIHNlc2FtZQ==");
    expect(JSON.parse(wire.body ?? "")).toMatchObject({ total: "24.90", pay_out: "on_dispatch" });
  });

  it("by a header key carries it there, and what else the profile says", async () => {
    const credentials = { "merchant-id": "MT60114", "api-key": "quip.trial.x", "notice-key": "k" };
    const wire = await buildRequest(
      shipped("quippa"),
      "test",
      "create",
      { ...order, currency: "JPY" },
      credentials,
      around,
    );
    expect(wire.headers).toMatchObject({ "quippa-key": "quip.trial.x", "quippa-merchant": "MT60114" });
    expect(JSON.parse(wire.body ?? "")).toMatchObject({ amount: 2490, money: "JPY" });
  });

  it("by a keyed digest is a form whose fields are digested", async () => {
    const credentials = { "outlet-id": "40119213", passphrase: "try~secret" };
    const profile = shipped("ostwick");
    const wire = await buildRequest(profile, "test", "create", order, credentials, around);
    const { DIGEST, ...fields } = Object.fromEntries(new URLSearchParams(wire.body));
    expect(wire.headers["content-type"]).toBe("application/x-www-form-urlencoded");
    expect(fields).toMatchObject({ AMOUNT: "24.90", SETTLE: "LATER", STAMP: "2023-11-14T22:13:20.000Z" });
    const way = profile.authentication;
    expect(way.scheme === "keyed-digest" && keyedDigest("try~secret", fields, way.digest)).toBe(DIGEST);
  });

  it("that was fetched by client credentials is carried", async () => {
    const profile = shipped("pennywhistle");
    const credentials = { "client-id": "s6BhdRkqt3", "client-secret": "7Fjfp0ZBr1KtDRbnfVdmIw" };
    const wire = await buildRequest(profile, "test", "create", order, credentials, {
      ...around,
      token: "t1",
    });
    expect(wire.headers.authorization).toBe("Bearer t1");
    expect(JSON.parse(wire.body ?? "")).toMatchObject({
      purchase: { amount: { value: "24.90", currency: "EUR" }, when: "reserve" },
    });
    await expect(buildRequest(profile, "test", "account", {}, credentials, around)).rejects.toMatchObject({
      code: "field-missing",
    });
  });

  it("is not built from half of the keys", async () => {
    for (const name of ["ratenhaus", "quippa", "ostwick"])
      await expect(
        buildRequest(shipped(name), "test", "account", {}, {}, around),
        name,
      ).rejects.toMatchObject({ code: "field-missing" });
  });
});

describe("an amount on the wire", () => {
  it("comes back as it was written, in currencies with no, two and three decimals, in both writings", () => {
    fc.assert(
      fc.property(
        fc.constantFrom("JPY", "EUR", "BHD"),
        fc.integer({ min: 0, max: 10 ** 12 }),
        (currency, amount) => {
          expect(amountOf(decimalText({ amount, currency }), currency, { amounts: "decimal" })).toBe(amount);
          expect(amountOf(amount, currency, { amounts: "minor" })).toBe(amount);
          expect(amountOf(String(amount), currency, { amounts: "minor" })).toBe(amount);
        },
      ),
    );
  });

  it("is counted with the provider's own decimals where it has its own", () => {
    const exponents = { JPY: 2, BHD: 2 };
    expect(writtenAmount(500, "JPY", { amounts: "minor", exponents })).toBe(50_000);
    expect(writtenAmount(500, "JPY", { amounts: "decimal", exponents })).toBe("500.00");
    expect(writtenAmount(1230, "BHD", { amounts: "decimal", exponents })).toBe("1.23");
    expect(writtenAmount(1230, "EUR", { amounts: "decimal", exponents })).toBe("12.30");
    expect(writtenAmount(500, "JPY", { amounts: "decimal" })).toBe("500");
    // A sum that the provider cannot count is not asked for as another.
    expect(() => writtenAmount(1234, "BHD", { amounts: "minor", exponents })).toThrow(/request\.finer|finer/);
    expect(amountOf(50_000, "JPY", { amounts: "minor", exponents })).toBe(500);
    // Finer than the currency is: nothing that could be meant.
    expect(amountOf(50_001, "JPY", { amounts: "minor", exponents })).toBeNull();
    // Noughts behind the point say no more than none.
    expect(amountOf("500.00", "JPY", { amounts: "decimal" })).toBe(500);
    expect(amountOf("500.01", "JPY", { amounts: "decimal", exponents })).toBeNull();
    fc.assert(
      fc.property(
        fc.constantFrom("JPY", "EUR", "BHD"),
        fc.constantFrom("minor" as const, "decimal" as const),
        fc.integer({ min: 3, max: 6 }),
        fc.integer({ min: 0, max: 10 ** 9 }),
        (currency, amounts, decimals, amount) => {
          const writing = { amounts, exponents: { [currency]: decimals } };
          expect(amountOf(writtenAmount(amount, currency, writing), currency, writing)).toBe(amount);
        },
      ),
    );
  });

  it("is written so in the order as well, line by line", async () => {
    const profile = { ...shipped("ratenhaus"), exponents: { EUR: 3 } };
    const { create } = profile.operations;
    if (!create) throw new Error("create");
    const asking = {
      ...profile,
      operations: {
        ...profile.operations,
        create: { ...create, request: { ...create.request, body: "order" } },
      },
    };
    const bought = {
      ...{ number: "LW-7", shipping: 490, tax: 0, taxIncluded: true, total: 2490, payNow: 1000, email: "" },
      lines: [{ name: "Kite", quantity: 2, unit: 1000, total: 2000 }],
    };
    const keys = { "house-name": "a", "house-password": "b", "letter-secret": "x" };
    const wire = await buildRequest(asking, "test", "create", { ...order, order: bought }, keys, around);
    expect(JSON.parse(wire.body ?? "")).toEqual({
      ...{ number: "LW-7", shipping: "4.900", tax: "0.000", taxIncluded: true, total: "24.900" },
      ...{ payNow: "10.000", email: "" },
      lines: [{ name: "Kite", quantity: 2, unit: "10.000", total: "20.000" }],
    });
  });

  it("is nothing when it is not one of that currency", () => {
    expect(amountOf("1.5", "JPY", { amounts: "decimal" })).toBeNull();
    expect(amountOf("1.234", "EUR", { amounts: "decimal" })).toBeNull();
    expect(amountOf("1.2345", "BHD", { amounts: "decimal" })).toBeNull();
    for (const odd of [1.5, -1, "12.00", "1e3", null, {}, true])
      expect(amountOf(odd, "EUR", { amounts: "minor" }), String(odd)).toBeNull();
    for (const odd of ["-1.00", "1,00", "", {}, true])
      expect(amountOf(odd, "EUR", { amounts: "decimal" }), String(odd)).toBeNull();
  });
});

describe("an answer", () => {
  const ostwick = shipped("ostwick");
  const answered = (fields: Record<string, string>) => ({
    status: 200,
    body: new URLSearchParams(fields).toString(),
  });
  const one = {
    ORDER: "OW1",
    YOURREF: "r1",
    CURRENCY: "EUR",
    AMOUNT: "24.90",
    STATE: "REFUSED",
    AUTH: "0.00",
    CAPT: "0.00",
    CRED: "0.00",
    REFUSAL: "D116",
  };

  it("as a form holds flat fields and lists of records", () => {
    const data = bodyData(
      "RESULT=00&ORDERS.0.STATE=NEW&ORDERS.1.STATE=PAID&ORDERS.7.STATE=X&__proto__=1",
      "form",
    );
    expect(data).toMatchObject({ RESULT: "00", ORDERS: [{ STATE: "NEW" }, { STATE: "PAID" }] });
    expect(bodyData("<html>", "json")).toBeUndefined();
    expect(bodyData("", "json")).toEqual({});
  });

  it("with a good status may be a refusal all the same", async () => {
    const refused = await readResponse(
      ostwick,
      "account",
      answered({ RESULT: "E21", MESSAGE: "a terminal group" }),
    );
    expect(refused).toEqual({
      ok: false,
      problem: { kind: "key-refused", code: "E21", text: "a terminal group" },
    });
    const odd = await readResponse(ostwick, "account", answered({ RESULT: "constructor", MESSAGE: "" }));
    expect(odd).toMatchObject({ ok: false, problem: { kind: "provider-fault" } });
  });

  it("is read into a payment in our words, amounts in minor units", async () => {
    const reading = await readResponse(ostwick, "read", answered({ RESULT: "00", ...one }));
    if (!reading.ok) throw new Error("not read");
    expect(reading.value).toMatchObject({ ref: "OW1", amount: 2490, authorised: 0 });
    expect(statementsOf(ostwick, reading.value)).toEqual([
      { object: "report", status: "declined", reason: "insufficient-funds", code: "D116" },
    ]);
    const found = await readResponse(ostwick, "find", answered({ RESULT: "00" }));
    expect(found).toEqual({ ok: true, value: { payments: [] } });
  });

  it("that does not hold a payment says what is missing, and is never taken for one", async () => {
    const read = (change: Record<string, string>) =>
      readResponse(ostwick, "read", answered({ RESULT: "00", ...one, ...change }));
    for (const [change, says] of [
      [{ CURRENCY: "KITES" }, /names no currency/],
      [{ AMOUNT: "lots" }, /"lots" for amount/],
      [{ AUTH: "-1.00" }, /no amount of EUR/],
      [{ STATE: "" }, /has no status/],
    ] as const)
      await read(change).then(
        () => expect.unreachable(),
        (error: ProfileError) => {
          expect(error.code).toBe("reading-malformed");
          expect(tell(error.says)).toMatch(says);
        },
      );
  });

  it("tells how far the review of an account has come", () => {
    const account = { account: "a", name: "n", country: "DE", currencies: [], mayCharge: false };
    expect(reviewOf(ostwick, { ...account, review: "LOOKING" })).toBe("in-review");
    expect(reviewOf(ostwick, { ...account, review: "toString" })).toBe("restricted");
    expect(reviewOf(ostwick, { ...account, mayCharge: true })).toBe("approved");
  });
});

describe("a message", () => {
  it("is read by its profile, whatever its format and its way to write the time", async () => {
    expect(await readEvent(shipped("quippa"), JSON.stringify({ notice: "try", at: 1 }))).toEqual({
      kind: "ping",
      name: "try",
    });
    expect(await readEvent(shipped("ostwick"), "KIND=OUTLET")).toEqual({ kind: "account", name: "OUTLET" });
    const code = {
      code_id: "C1",
      ref: "r1",
      amount: 500,
      money: "JPY",
      step: "paid",
      paid: 500,
      returned: 0,
      why: null,
      scan: null,
    };
    expect(
      await readEvent(shipped("quippa"), JSON.stringify({ notice: "code", at: 1_700_000_000, code })),
    ).toMatchObject({
      kind: "payment",
      at: 1_700_000_000_000,
      payment: { ref: "C1", captured: 500 },
    });
    expect(
      (
        await readEvent(
          shipped("quippa"),
          JSON.stringify({ notice: "code", at: 1, code: { ...code, money: "X" } }),
        )
      ).kind,
    ).toBe("unknown");
    expect((await readEvent(shipped("thumbra"), "{}")).kind).toBe("unknown");
    expect(instantOf("2023-11-14T22:13:20Z")).toBe(instantOf(1_700_000_000));
    expect(instantOf("1700000000000")).toBe(1_700_000_000_000);
    expect(instantOf(undefined)).toBeNaN();
  });
});
