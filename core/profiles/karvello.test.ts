import { speaking } from "../../scripts/english";
import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { compareAccount } from "../connections/account";
import { checkForm as checkFormSaid } from "../connections/form";
import { buildRequest, frameAddress } from "./request";
import { readEvent } from "./event";
import { readResponse } from "./response";
import { statementsOf } from "./statements";
import { fieldOf, frameOrigins, type Profile } from "./profile";
import { readProfile as readProfileSaid } from "./read-profile";

const readProfile = speaking(readProfileSaid);
const checkForm = speaking(checkFormSaid);

const document: unknown = JSON.parse(readFileSync("profiles/karvello.json", "utf8"));
const reading = readProfile(document);
if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
const { profile } = reading;
const credentials = {
  "account-code": "KV-S-207714",
  "frame-key": "kvf.s.abcdefghjkmnpqrstuvw",
  "server-key": "kvs.s.abcdefghjkmnpqrstuvwxyz23456789a",
};
const around = { now: 1_700_000_000_000, nonce: "n" };
const slip = {
  no: "SABC",
  your_ref: "r1",
  sum: 1200,
  coin: "EUR",
  stand: "turned_down",
  held: 0,
  taken: 0,
  given_back: 0,
  refusal: { code: "R51", text: "Not enough" },
  ask_at: null,
  card: { network: "Norda", last: "0027" },
};

describe("profile documents", () => {
  it("reads the shipped profile and says what is wrong with a broken one", () => {
    expect(frameOrigins(profile)).toEqual(["http://localhost:4100"]);
    const broken = { ...(document as Profile), version: "one", statuses: { held: "yes" } };
    const refused = readProfile(broken);
    expect(refused.ok).toBe(false);
    if (!refused.ok)
      expect(refused.problems.map(({ path, says }) => `${path.join(".")} ${says}`).join()).toMatch(
        /version does not look right/,
      );
    for (const junk of [null, 7, [], "x", {}]) expect(readProfile(junk).ok).toBe(false);
    const odd = JSON.parse(JSON.stringify(document).replace("{", '{"toString":1,')) as unknown;
    expect(readProfile(odd)).toEqual({
      ok: false,
      problems: [{ path: ["toString"], says: "is not a name that is taken here" }],
    });
  });
});

describe("the interpreter", () => {
  it("builds a request with its authentication, idempotency key and body", async () => {
    const input = {
      amount: 1200,
      currency: "EUR",
      token: "t",
      capture: "later",
      authentication: "issuer",
      statement: "LUVWINKEL",
      reference: "r1",
      returnAddress: "http://x/back",
      idempotencyKey: "once-1",
    };
    const wire = await buildRequest(profile, "test", "create", input, credentials, around);
    expect(wire).toMatchObject({ method: "POST", url: "http://localhost:4100/karvello/sandbox/api/slips" });
    expect(wire.headers).toMatchObject({
      authorization: `Bearer ${credentials["server-key"]}`,
      "karvello-account": "KV-S-207714",
      "once-only": "once-1",
    });
    expect(JSON.parse(wire.body ?? "")).toMatchObject({
      sum: 1200,
      coin: "EUR",
      take: "later",
      your_ref: "r1",
    });
  });

  it("encodes what it puts into an address and refuses what it has no value for", async () => {
    const wire = await buildRequest(profile, "test", "read", { ref: "a/../b?c" }, credentials, around);
    expect(wire.url).toMatch(/\/slips\/a%2F\.\.%2Fb%3Fc$/);
    await expect(buildRequest(profile, "test", "read", {}, credentials, around)).rejects.toMatchObject({
      code: "field-missing",
    });
    await expect(
      buildRequest(profile, "live", "actForShopper", { ref: "x" }, credentials, around),
    ).rejects.toMatchObject({
      code: "operation-missing",
    });
  });

  it("reads payments and turns the provider's codes into our words", async () => {
    const answer = await readResponse(profile, "read", {
      status: 200,
      body: JSON.stringify(slip),
    });
    if (!answer.ok) throw new Error("not read");
    expect(answer.value).toMatchObject({ ref: "SABC", reference: "r1", instrument: "Norda …0027" });
    expect(statementsOf(profile, answer.value)).toEqual([
      {
        object: "report",
        status: "declined",
        reason: "insufficient-funds",
        code: "R51",
        text: "Not enough",
      },
    ]);
    const taken = {
      ...answer.value,
      status: "part_given_back",
      authorised: 1200,
      captured: 1200,
      refunded: 300,
    };
    expect(statementsOf(profile, taken)).toEqual([
      { object: "report", status: "refunded", authorised: 1200, captured: 1200, refunded: 300 },
    ]);
  });

  it("reads lists, one entry or none included", async () => {
    for (const slips of [[], [slip], [slip, slip]]) {
      const found = await readResponse(profile, "find", {
        status: 200,
        body: JSON.stringify({ slips }),
      });
      expect(found.ok && found.value.payments.length).toBe(slips.length);
    }
  });

  it("reads problems, and answers that are not what was promised", async () => {
    const read = (status: number, body: string) => readResponse(profile, "create", { status, body });
    const fault = JSON.stringify({ fault: { code: "K-421", text: "too little" } });
    expect(await read(422, fault)).toEqual({
      ok: false,
      problem: { kind: "amount-too-small", code: "K-421", text: "too little" },
    });
    expect(await read(502, "<h1>Bad gateway</h1>")).toMatchObject({
      problem: { kind: "provider-fault", code: "HTTP 502" },
    });
    expect(await read(418, "{}")).toMatchObject({ problem: { kind: "refused" } });
    expect(await read(429, "{}")).toMatchObject({ problem: { kind: "too-many-requests" } });
    expect(await read(408, "{}")).toMatchObject({ problem: { kind: "provider-fault" } });
  });

  it("reads events, and does not fall over those it does not know", async () => {
    const event = { tell: "slip.turned_down", at: "2026-03-01T10:00:00.000Z", about: slip };
    expect(await readEvent(profile, JSON.stringify(event))).toMatchObject({
      kind: "payment",
      at: Date.UTC(2026, 2, 1, 10),
      payment: { ref: "SABC", declineCode: "R51" },
    });
    expect(await readEvent(profile, '{"tell":"bell.test","at":"x"}')).toEqual({
      kind: "ping",
      name: "bell.test",
    });
    for (const body of ["", "not json", "[]", "null", '{"tell":"__proto__"}', '{"tell":"slip.held"}']) {
      expect((await readEvent(profile, body)).kind).toBe("unknown");
    }
  });

  it("makes the frame's address", () => {
    const url = new URL(
      frameAddress(profile, "test", credentials, { origin: "https://z.example", language: "de" }) ?? "",
    );
    expect(url.searchParams.get("origin")).toBe("https://z.example");
    expect(url.searchParams.get("key")).toBe(credentials["frame-key"]);
  });
});

describe("what a pasted key's form tells", () => {
  const check = (id: string, mode: "test" | "live", pasted: string) => {
    const field = fieldOf(profile, id);
    if (!field) throw new Error(id);
    return checkForm(profile, field, mode, pasted);
  };
  const liveServerKey = credentials["server-key"].replace(".s.", ".l.");

  it("trims stray spaces and says so", () => {
    expect(check("account-code", "test", " KV-S-207714\u00a0\n")).toEqual({
      ok: true,
      value: "KV-S-207714",
      trimmed: true,
    });
  });

  it("names a key of the other mode, of another field, and look-alikes", () => {
    expect(check("server-key", "live", credentials["server-key"])).toMatchObject({
      code: "other-mode",
      says: "This is the sandbox server key, and this is the live column.",
    });
    expect(check("server-key", "test", liveServerKey)).toMatchObject({ code: "other-mode" });
    expect(check("server-key", "test", credentials["frame-key"])).toMatchObject({
      code: "other-field",
      says: "This is the sandbox frame key; the server key goes here.",
    });
    expect(check("account-code", "test", "207714")).toMatchObject({ code: "look-alike" });
    expect(check("server-key", "test", "hello")).toMatchObject({ code: "malformed" });
    expect(check("server-key", "test", "  ")).toMatchObject({ code: "empty" });
    expect(check("server-key", "test", "x".repeat(10_000))).toMatchObject({ code: "too-long" });
  });

  it("compares the account with the storefront", () => {
    const account = {
      account: "KV-S-1",
      name: "Luvwinkel",
      country: "GB",
      currencies: [{ charged: "GBP", settled: "EUR" }],
      mayCharge: false,
      because: "papers missing",
    };
    const findings = compareAccount(account, {
      name: "Luvwinkel DE",
      country: "DE",
      currencies: ["EUR", "GBP"],
    });
    expect(findings.map((one) => [one.code, one.blocking])).toEqual([
      ["may-not-charge", true],
      ["currency-not-charged", true],
      ["settles-otherwise", false],
      ["other-country", false],
    ]);
  });
});
