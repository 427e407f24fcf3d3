import { describe, expect, it } from "vitest";
import { type HarExchange, harOf } from "./har";
import { supportBundle } from "./support";

const exchange: HarExchange = {
  at: Date.parse("2026-11-25T10:00:00Z"),
  duration: 41,
  label: "create the payment",
  outcome: null,
  request: {
    method: "POST",
    url: "https://api.example/slips?your_ref=r1",
    headers: { "content-type": "application/json", authorization: "…x9k2" },
    body: '{"sum":4390}',
  },
  response: { status: 201, headers: { "content-type": "application/json" }, body: '{"name":"Möwe"}' },
};

describe("exchanges as HAR 1.2", () => {
  it("hold what the format asks of an entry", () => {
    const { log } = harOf([exchange], "1");
    expect(log).toMatchObject({ version: "1.2", creator: { name: "Zahlung", version: "1" } });
    expect(log.entries[0]).toMatchObject({
      startedDateTime: "2026-11-25T10:00:00.000Z",
      time: 41,
      request: {
        method: "POST",
        queryString: [{ name: "your_ref", value: "r1" }],
        postData: { mimeType: "application/json", text: '{"sum":4390}' },
        bodySize: 12,
        headersSize: -1,
      },
      response: { status: 201, content: { size: 16, mimeType: "application/json" }, redirectURL: "" },
      cache: {},
      timings: { send: 0, wait: 41, receive: 0 },
      comment: "create the payment",
    });
  });

  it("leave out what was no request, and keep one that was never answered", () => {
    const silent = { ...exchange, response: null, duration: null, outcome: "did not answer in time." };
    const { entries } = harOf([{ ...exchange, request: null }, silent], "1").log;
    expect(entries).toHaveLength(1);
    expect(entries[0]).toMatchObject({
      response: { status: 0, bodySize: -1 },
      comment: "create the payment: did not answer in time.",
    });
  });
});

describe("what a provider's support is sent", () => {
  it("holds times, references and both sides", () => {
    const text = supportBundle("Karvello", "test", "KV-S-207714", ["pay_1", "exc_1"], exchange);
    expect(text).toContain("Karvello, sandbox, account KV-S-207714");
    expect(text).toContain("When: 2026-11-25T10:00:00.000Z, answered after 41 ms");
    expect(text).toContain("References: pay_1, exc_1");
    expect(text).toContain('> {"sum":4390}');
    expect(text).toContain("< 201");
    expect(supportBundle("Karvello", "live", null, [], { ...exchange, response: null })).toContain(
      "< no answer",
    );
  });
});
