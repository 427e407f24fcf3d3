import { createHash, generateKeyPairSync, sign } from "node:crypto";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { checkContentDigest } from "./content-digest";
import type { SignedMessage } from "./message";
import { type SignatureTerms, verifyHttpMessage } from "./http-message-signature";

// RFC 9421, appendix B.2: the message, the keys and the signatures.
const body = Buffer.from('{"hello": "world"}');
const digest =
  "sha-512=:WZDPaVn/7XgHaAy8pmojAkGWoRx2UFChF41A2svX+TaPm+AbwAgBWnrIiYllu7BNNyealdVLvRwEmTHWXvJwew==:";
const created = 1_618_884_473;
const clock = { now: created * 1000, tolerance: 300_000 };
const message = (input: string, signature: string, change: Record<string, string> = {}): SignedMessage => ({
  method: "POST",
  url: "https://example.com/foo?param=Value&Pet=dog",
  headers: {
    host: "example.com",
    date: "Tue, 20 Apr 2021 02:07:55 GMT",
    "content-type": "application/json",
    "content-digest": digest,
    "content-length": "18",
    "signature-input": input,
    signature,
    ...change,
  },
  body,
});
const ed25519 = "JrQLj5P_89iXES9-vFgrIy29clF9CC_oPPsw3c5D0bs";
const shared = "uzvJfB4u3N0Jy4T7NZ75MDVcr8zSTInedJtkgcu46YW4XByzNJjxBdtjUkdJPBtbmHhIDi6pcl8jsasjlTMtDQ==";
const b26 = () =>
  message(
    `sig-b26=("date" "@method" "@path" "@authority" "content-type" "content-length");created=${created};keyid="test-key-ed25519"`,
    "sig-b26=:wqcAqbmYJ2ji2glfAMaRy4gruYYnx2nEFN2HN6jrnDnQCK1u02Gb04v9EDgwUPiu4A0w6vuQv5lIp5WPpBKRCw==:",
  );
const b25 = () =>
  message(
    `sig-b25=("date" "@authority" "content-type");created=${created};keyid="test-shared-secret"`,
    "sig-b25=:pxcQw6G3AjtMBQjwo8XzkZf/bws5LelbaMk5rGIGtE8=:",
  );
const edTerms: SignatureTerms = { algorithm: "ed25519", components: ["@method", "@path"] };
const hmacTerms: SignatureTerms = { algorithm: "hmac-sha256", components: ["@authority"] };
const code = (work: () => unknown): string => {
  try {
    work();
    return "good";
  } catch (error) {
    return (error as { code: string }).code;
  }
};

describe("HTTP message signatures (RFC 9421)", () => {
  it("hold for the standard's own examples, Ed25519 and HMAC", () => {
    expect(verifyHttpMessage([ed25519], b26(), edTerms, clock)).toEqual({ createdAt: created * 1000 });
    expect(verifyHttpMessage([shared], b25(), hmacTerms, clock)).toEqual({ createdAt: created * 1000 });
  });

  it("are believed with any of several keys while one is being replaced, and with none of others", () => {
    const other = Buffer.alloc(32, 7).toString("base64");
    expect(code(() => verifyHttpMessage([other, shared], b25(), hmacTerms, clock))).toBe("good");
    expect(code(() => verifyHttpMessage([other], b25(), hmacTerms, clock))).toBe("signature-mismatch");
    expect(code(() => verifyHttpMessage(["c2hvcnQ="], b26(), edTerms, clock))).toBe("secret-malformed");
  });

  it("do not hold for another method, path, header or time", () => {
    const other = (change: Partial<SignedMessage>) =>
      code(() => verifyHttpMessage([ed25519], { ...b26(), ...change }, edTerms, clock));
    expect(other({ method: "PUT" })).toBe("signature-mismatch");
    expect(other({ url: "https://example.com/fool" })).toBe("signature-mismatch");
    expect(other({ url: "https://example.org/foo" })).toBe("signature-mismatch");
    expect(other({ headers: { ...b26().headers, date: "today" } })).toBe("signature-mismatch");
    const at = (now: number) => code(() => verifyHttpMessage([ed25519], b26(), edTerms, { ...clock, now }));
    expect(at(created * 1000 + 300_000)).toBe("good");
    expect(at(created * 1000 + 301_000)).toBe("timestamp-too-old");
    expect(at(created * 1000 - 301_000)).toBe("timestamp-too-new");
  });

  it("must cover what the profile asks for, in the way it asks", () => {
    const asks = (terms: Partial<SignatureTerms>) =>
      code(() => verifyHttpMessage([ed25519], b26(), { ...edTerms, ...terms }, clock));
    expect(asks({ components: ["content-digest"] })).toBe("component-missing");
    expect(
      code(() =>
        verifyHttpMessage(
          [shared],
          message(b25().headers["signature-input"] + ';alg="rsa-v1_5-sha256"', b25().headers.signature ?? ""),
          hmacTerms,
          clock,
        ),
      ),
    ).toBe("algorithm-refused");
    expect(code(() => verifyHttpMessage([shared], message("", ""), hmacTerms, clock))).toBe("header-missing");
    expect(code(() => verifyHttpMessage([shared], message("((", "::"), hmacTerms, clock))).toBe(
      "signature-malformed",
    );
    const uncreated = message('s=("@authority")', "s=:AAAA:");
    expect(code(() => verifyHttpMessage([shared], uncreated, hmacTerms, clock))).toBe("timestamp-malformed");
  });

  it("are each tried where several cover what is asked for, and one that holds is enough", () => {
    const { "signature-input": input = "", signature = "" } = b25().headers;
    const forged = `forged=("@authority");created=${created}`;
    const several = (inputs: string[], signatures: string[]) =>
      code(() =>
        verifyHttpMessage([shared], message(inputs.join(", "), signatures.join(", ")), hmacTerms, clock),
      );
    expect(several([forged, input], ["forged=:AAAA:", signature])).toBe("good");
    expect(several([input, forged], [signature, "forged=:AAAA:"])).toBe("good");
    expect(several([forged], ["forged=:AAAA:"])).toBe("signature-mismatch");
    expect(several([forged.replace(String(created), "1"), input], ["forged=:AAAA:", signature])).toBe("good");
  });

  it("are refused, and nothing is thrown, where a component is covered twice or has an odd name", () => {
    const covering = (list: string) =>
      code(() =>
        verifyHttpMessage([shared], message(`s=(${list});created=${created}`, "s=:AAAA:"), hmacTerms, clock),
      );
    expect(covering('"@authority" "@authority"')).toBe("signature-malformed");
    expect(covering('"@authority" "date" "date"')).toBe("signature-malformed");
    for (const odd of ["__proto__", "constructor", "toString", "@nothing", "", "Date", "@query-param"])
      expect(covering(`"@authority" "${odd}"`), odd).toBe("component-missing");
    for (const odd of ["7", "token", "?1", ":AAAA:", '"@method";req', '"@query-param";name="none"'])
      expect(covering(`"@authority" ${odd}`), odd).toBe("component-missing");
  });

  it("hold the body to a covered Content-Digest", () => {
    expect(code(() => checkContentDigest(digest, body))).toBe("good");
    expect(code(() => checkContentDigest(digest, Buffer.from("{}")))).toBe("digest-mismatch");
    expect(code(() => checkContentDigest("unixsum=:AAAA:", body))).toBe("digest-mismatch");
    expect(code(() => checkContentDigest("sha-256=nonsense()", body))).toBe("signature-malformed");
    const both = `sha-256=:${createHash("sha256").update(body).digest("base64")}:, sha-512=:AAAA:`;
    expect(code(() => checkContentDigest(both, body))).toBe("digest-mismatch");
  });

  it("verify exactly what was signed, whatever the body and the query", () => {
    const { privateKey, publicKey } = generateKeyPairSync("ed25519");
    const key = (publicKey.export({ format: "jwk" }) as { x: string }).x;
    const terms: SignatureTerms = { algorithm: "ed25519", components: ["@target-uri", "content-digest"] };
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 60 }),
        fc.webUrl({ withQueryParameters: true }),
        fc.boolean(),
        (bytes, url, tamper) => {
          const contentDigest = `sha-256=:${createHash("sha256").update(bytes).digest("base64")}:`;
          const parameters = `("@target-uri" "content-digest");created=${created}`;
          const base = `"@target-uri": ${url}\n"content-digest": ${contentDigest}\n"@signature-params": ${parameters}`;
          const value = sign(null, Buffer.from(base), privateKey).toString("base64");
          const signed = {
            method: "POST",
            url,
            headers: {
              "content-digest": contentDigest,
              "signature-input": `a=${parameters}`,
              signature: `a=:${value}:`,
            },
            body: tamper ? Buffer.concat([bytes, Buffer.from("x")]) : bytes,
          };
          expect(code(() => verifyHttpMessage([key], signed, terms, clock))).toBe(
            tamper ? "digest-mismatch" : "good",
          );
        },
      ),
    );
  });
});
