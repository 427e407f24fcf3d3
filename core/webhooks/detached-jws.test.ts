import { generateKeyPairSync, sign } from "node:crypto";
import { importJWK, type JSONWebKeySet } from "jose";
import { describe, expect, it } from "vitest";
import { openDetachedJws, verifyDetachedJws } from "./detached-jws";

const bytes = (text: string) => Buffer.from(text);
const code = async (work: Promise<unknown>): Promise<string> => {
  try {
    await work;
    return "good";
  } catch (error) {
    return (error as { code: string }).code;
  }
};

describe("detached JWS", () => {
  it("holds for the example of RFC 7515, appendix A.3 (ES256), its payload detached as in appendix F", async () => {
    const set: JSONWebKeySet = {
      keys: [
        {
          kty: "EC",
          crv: "P-256",
          x: "f83OJ3D2xF1Bg8vub9tLe1gHMzV76e8Tus9uPHvRVEU",
          y: "x_FEzRu9m36HLN_tue659LNpXW6pCyStikYjKIWI5a0",
        },
      ],
    };
    const payload = Buffer.from(
      "eyJpc3MiOiJqb2UiLA0KICJleHAiOjEzMDA4MTkzODAsDQogImh0dHA6Ly9leGFtcGxlLmNvbS9pc19yb290Ijp0cnVlfQ",
      "base64url",
    );
    const jws =
      "eyJhbGciOiJFUzI1NiJ9..DtEhU3ljbEg8L38VWAfUAqOyKAM6-Xx-F4GawxaepmXFCgfTjDxw5djxLa8ISlSApmWQxfKTUJqPP3-Kg6NU1Q";
    const key = await importJWK(set.keys[0] ?? {}, "ES256");
    expect(await openDetachedJws(() => Promise.resolve(key), jws, payload, ["ES256"])).toEqual({
      alg: "ES256",
    });
    expect(await code(openDetachedJws(() => Promise.resolve(key), jws, bytes("other"), ["ES256"]))).toBe(
      "signature-mismatch",
    );
    // It says nothing of when it was signed, so as a webhook it is not believed.
    expect(await code(verifyDetachedJws(set, jws, payload, ["ES256"], { now: 0, tolerance: 1 }))).toBe(
      "timestamp-malformed",
    );
  });

  it("holds for the example of RFC 7797, section 4.2 (payload unencoded)", async () => {
    const key = Buffer.from(
      "AyM1SysPpbyDfgZld3umj1qzKObwVMkoqQ-EstJQLr_T-1qS0gZH75aKtMN3Yj0iPS4hcgUuTwjAzZr1Z9CAow",
      "base64url",
    );
    const jws =
      "eyJhbGciOiJIUzI1NiIsImI2NCI6ZmFsc2UsImNyaXQiOlsiYjY0Il19..A5dxf2s96_n5FLueVuW1Z_vh161FwXZC4YLPff6dmDY";
    const header = await openDetachedJws(() => key, jws, bytes("$.02"), ["HS256"]);
    expect(header).toMatchObject({ b64: false, crit: ["b64"] });
    expect(await code(openDetachedJws(() => key, jws, bytes("$.03"), ["HS256"]))).toBe("signature-mismatch");
  });

  const pair = generateKeyPairSync("ec", { namedCurve: "P-256" });
  const set: JSONWebKeySet = {
    keys: [{ ...pair.publicKey.export({ format: "jwk" }), kid: "one", alg: "ES256" }],
  };
  const signed = (header: object, body: string) => {
    const head = Buffer.from(JSON.stringify(header)).toString("base64url");
    const value = sign("sha256", bytes(`${head}.${body}`), {
      key: pair.privateKey,
      dsaEncoding: "ieee-p1363",
    });
    return `${head}..${value.toString("base64url")}`;
  };
  const header = { alg: "ES256", kid: "one", b64: false, crit: ["b64"], iat: 1_700_000_000, jti: "m-1" };
  const clock = { now: 1_700_000_000_000, tolerance: 300_000 };
  const check = (change: object, body = "{}", at = clock) =>
    code(verifyDetachedJws(set, signed({ ...header, ...change }, body), bytes("{}"), ["ES256"], at));

  it("tells when it was signed and which message it is", async () => {
    const jws = signed(header, "{}");
    expect(await verifyDetachedJws(set, jws, bytes("{}"), ["ES256"], clock)).toEqual({
      id: "m-1",
      signedAt: clock.now,
    });
  });

  it("is refused when what the provider publishes is no set of keys", async () => {
    const odd = { keys: [null] } as unknown as JSONWebKeySet;
    expect(await code(verifyDetachedJws(odd, signed(header, "{}"), bytes("{}"), ["ES256"], clock))).toBe(
      "key-unknown",
    );
  });

  it("is refused for another body, key, algorithm or time, and for what is no JWS", async () => {
    expect(await check({})).toBe("good");
    expect(await check({}, "[]")).toBe("signature-mismatch");
    expect(await check({ kid: "two" })).toBe("key-unknown");
    expect(await check({ alg: "none" })).toBe("algorithm-refused");
    expect(await check({ iat: undefined })).toBe("timestamp-malformed");
    expect(await check({}, "{}", { ...clock, now: clock.now + 300_001 })).toBe("timestamp-too-old");
    expect(await check({}, "{}", { ...clock, now: clock.now - 300_001 })).toBe("timestamp-too-new");
    for (const junk of ["", "..", "a.b.c", "e30..x", "%%..%%", `${signed(header, "{}")}.x`])
      expect(await code(verifyDetachedJws(set, junk, bytes("{}"), ["ES256"], clock)), junk).toMatch(
        /signature-malformed|algorithm-refused/,
      );
  });
});
