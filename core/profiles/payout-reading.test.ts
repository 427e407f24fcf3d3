import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tell } from "../../scripts/english";
import { amountOf, signedAmountOf } from "./amount";
import { readEvent } from "./event";
import { ProfileError } from "./expressions";
import type { Profile } from "./profile";
import { readProfile } from "./read-profile";
import { readResponse, type WireResponse } from "./response";

const shipped = (name: string): Profile => {
  const reading = readProfile(JSON.parse(readFileSync(`profiles/${name}.json`, "utf8")));
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.profile;
};
const [karvello, ostwick, ratenhaus] = [shipped("karvello"), shipped("ostwick"), shipped("ratenhaus")];
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

describe("a statement as banks write one", () => {
  const entry = (no: string, change: Record<string, string> = {}) => {
    const {
      what = "PLAN",
      net = "21.24",
      side = "CRDT",
      gross = "24.90",
      fee = "3.66",
      order = "r1",
    } = change;
    return `<Ntry><NtryRef>${no}</NtryRef><Amt Ccy="EUR">${net}</Amt><CdtDbtInd>${side}</CdtDbtInd>
      <BookgDt><DtTm>2026-11-02T08:00:00Z</DtTm></BookgDt><BkTxCd><Prtry><Cd>${what}</Cd></Prtry></BkTxCd>
      <AmtDtls><InstdAmt><Amt Ccy="EUR">${gross}</Amt></InstdAmt></AmtDtls>
      <Chrgs><TtlChrgsAndTaxAmt Ccy="EUR">${fee}</TtlChrgsAndTaxAmt></Chrgs>
      <NtryDtls><TxDtls><Refs><AcctSvcrRef>RP${no}</AcctSvcrRef><EndToEndId>${order}</EndToEndId></Refs></TxDtls></NtryDtls></Ntry>`;
  };
  const document = (...entries: string[]) =>
    `<?xml version="1.0" encoding="UTF-8"?>
    <Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><Stmt>${entries.join("")}</Stmt></BkToCstmrStmt></Document>`;
  const xml = (body: string, type = "application/xml"): WireResponse => ({
    ...{ status: 200, body, headers: [["content-type", type]] },
  });
  const read = async (body: string, type?: string) => {
    const reading = await readResponse(ratenhaus, "readPayout", xml(body, type));
    if (!reading.ok) throw new Error("not read");
    return reading.value.entries;
  };

  it("is read entry by entry: none, one, and many", async () => {
    expect(await read(document())).toEqual([]);
    expect(await read(document(entry("1")))).toEqual([
      {
        ...{ id: "1", kind: "PLAN", ref: "RP1", reference: "r1", currency: "EUR", amount: 2490 },
        ...{ settled: "EUR", fee: 366, net: 2124, at: Date.UTC(2026, 10, 2, 8) },
      },
    ]);
    const back = entry("2", { what: "RETURN", side: "DBIT", net: "25.85", fee: "0.95" });
    expect((await read(document(entry("1"), back)))[1]).toMatchObject({ amount: -2490, fee: 95, net: -2585 });
    const many = Array.from({ length: 950 }, (_, i) => entry(String(i + 1)));
    expect((await read(document(...many))).map(({ id }) => Number(id))).toEqual(many.map((_, i) => i + 1));
  });

  it("is the same with prefixes, signs written as others, and another media type of its kind", async () => {
    const prefixed = document(entry("1", { order: "a &amp; &#246;<![CDATA[<b>]]>" }))
      .replaceAll(/<(\/?)(?=[A-Z])/g, "<$1ns2:")
      .replace("xmlns=", "xmlns:ns2=");
    for (const type of ["text/xml; charset=utf-8", "application/camt.053+xml"])
      expect(await read(prefixed, type)).toMatchObject([{ id: "1", reference: "a & ö<b>" }]);
  });

  it("is refused where it is none, is cut off, names other files, nests without end or is too long", async () => {
    const says = (body: string, type?: string) => refused(read(body, type));
    // Neither a file nor an answer of another kind.
    expect(await readResponse(ratenhaus, "readPayout", xml(document(), "text/html"))).toMatchObject({
      ok: false,
      problem: { kind: "provider-fault", code: "HTTP 200" },
    });
    expect(await says(document(entry("1")).slice(0, -30))).toMatch(/no XML that can be read/);
    expect(await says("nothing of the kind")).toMatch(/no XML that can be read/);
    expect(await says(`<!DOCTYPE a [<!ENTITY b SYSTEM "file:///etc/passwd">]>${document()}`)).toMatch(
      /document type/,
    );
    expect(await says("<a>".repeat(5_000) + "</a>".repeat(5_000))).toMatch(/no XML that can be read/);
    expect(await says("<Document><constructor/></Document>")).toMatch(/no XML that can be read/);
    expect(await says(document("<Ntry/>".repeat(20_001)))).toMatch(/more than 20,000 rows/);
    expect(await says(document("<Ntry/>"))).toMatch(/entries\[0\]|names no currency/);
  });

  it("never does anything but be read or be refused, whatever comes", async () => {
    await fc.assert(
      fc.asyncProperty(fc.string(), fc.string(), async (before, after) => {
        const whole = document(entry("1"));
        const cut = whole.length / 2;
        const body = whole.slice(0, cut) + before + whole.slice(cut) + after;
        await readResponse(ratenhaus, "readPayout", xml(body)).catch((error: unknown) =>
          expect(error).toBeInstanceOf(ProfileError),
        );
      }),
      { numRuns: 200 },
    );
  });

  it("has rows in a profile where it is XML, and only there", () => {
    const document = JSON.parse(readFileSync("profiles/ratenhaus.json", "utf8")) as Profile;
    const { readPayout: operation } = document.operations;
    const told = (change: object) => {
      const reading = readProfile({
        ...document,
        operations: { ...document.operations, readPayout: { ...operation, ...change } },
      });
      return reading.ok ? [] : reading.problems.map(({ path, says }) => `${path.join(".")} ${tell(says)}`);
    };
    expect(told({})).toEqual([]);
    const whole = ["operations.readPayout names rows where it answers with xml, and only there."];
    expect(told({ rows: undefined })).toEqual(whole);
    expect(told({ answers: "csv" })).toEqual(whole);
    expect(told({ rows: "Document/Stmt" })[0]).toMatch(/does not look right/);
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
