import { Webhook } from "standardwebhooks";
import { describe, expect, it } from "vitest";
import { secretFromBytes, sign, verify } from "./standard-webhooks";

// The specification's own example (libraries' shared test vector).
const secret = "whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw";
const id = "msg_p5jXN8AQM9LWM0D4loKWxJek";
const at = 1614265330_000;
const body = '{"test": 2432232314}';
const signature = "v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=";

const headers = (change: Record<string, string | undefined> = {}) => ({
  "webhook-id": id,
  "webhook-timestamp": "1614265330",
  "webhook-signature": signature,
  ...change,
});
const check = (change = {}, options: { now?: number; secrets?: string[]; body?: string } = {}) =>
  verify(options.secrets ?? [secret], headers(change), options.body ?? body, {
    now: options.now ?? at,
    tolerance: 300_000,
  });
const failing = (code: string) => expect.objectContaining({ code });

describe("Standard Webhooks", () => {
  it("signs and verifies the specification's example", () => {
    expect(sign(secret, id, at, body)["webhook-signature"]).toBe(signature);
    expect(check()).toEqual({ id });
  });

  it("takes one of several signatures and one of several secrets", () => {
    expect(check({ "webhook-signature": `v1,AAAA v1a,xyz ${signature}` })).toEqual({ id });
    expect(check({}, { secrets: [secretFromBytes(Buffer.alloc(24, 7)), secret] })).toEqual({ id });
  });

  it("says why a message is not believed", () => {
    expect(() => check({ "webhook-id": undefined })).toThrow(failing("header-missing"));
    expect(() => check({ "webhook-timestamp": "soon" })).toThrow(failing("timestamp-malformed"));
    expect(() => check({}, { now: at + 301_000 })).toThrow(failing("timestamp-too-old"));
    expect(() => check({}, { now: at - 301_000 })).toThrow(failing("timestamp-too-new"));
    expect(() => check({}, { body: body + " " })).toThrow(failing("signature-mismatch"));
    expect(() => check({ "webhook-id": "msg_other" })).toThrow(failing("signature-mismatch"));
    expect(() => check({}, { secrets: [secretFromBytes(Buffer.alloc(24, 7))] })).toThrow(
      failing("signature-mismatch"),
    );
    expect(() => check({ "webhook-signature": "v1," })).toThrow(failing("signature-mismatch"));
    expect(() => check({}, { secrets: ["whsec_AA"] })).toThrow(failing("secret-malformed"));
  });

  it("agrees with the reference library in both directions", () => {
    const now = Date.now();
    const ours = sign(secret, "m1", now, '{"a":"ü"}');
    expect(new Webhook(secret).verify('{"a":"ü"}', ours)).toEqual({ a: "ü" });
    const theirs = new Webhook(secret).sign("m2", new Date(now), "{}");
    const set = {
      "webhook-id": "m2",
      "webhook-timestamp": String(Math.floor(now / 1000)),
      "webhook-signature": theirs,
    };
    expect(verify([secret], set, "{}", { now, tolerance: 1000 })).toEqual({ id: "m2" });
  });
});
