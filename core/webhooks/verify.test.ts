import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { digestText, keyedDigest } from "../profiles/digest";
import type { DigestSpec, Signing } from "../profiles/profile";
import { sign as signStandard } from "./standard-webhooks";
import { verdictWords } from "./verdict-words";
import { verifyMessage } from "./verify";

const spec: DigestSpec = {
  algorithm: "hmac-sha256",
  fields: "sorted",
  write: "pairs",
  join: "|",
  encoding: "hex",
};
const now = 1_700_000_000_000;
const code = async (work: Promise<unknown>): Promise<string> => {
  try {
    await work;
    return "good";
  } catch (error) {
    return (error as { code: string }).code;
  }
};

describe("a keyed digest", () => {
  it("is the HMAC of RFC 4231, test case 2", () => {
    const plain: DigestSpec = { ...spec, fields: ["text"], write: "values" };
    const fields = { text: "what do ya want for nothing?" };
    expect(keyedDigest("Jefe", fields, plain)).toBe(
      "5bdcc146bf60754e6a042426089575c75a003f089d2739839dec58b964ec3843",
    );
    expect(keyedDigest("Jefe", fields, { ...plain, algorithm: "hmac-sha512", encoding: "base64" })).toBe(
      Buffer.from(
        "164b7a7bfcf819e2e395fbe73b56e0a387bd64222e831fd610270cd7ea2505549758bf75c05a994a6d034f65f8f0e6fdcaeab1a34d4a6b4b636e070a38bce737",
        "hex",
      ).toString("base64"),
    );
  });

  it("is made over the fields in the order and the writing that the profile says", () => {
    const fields = { B: "2", A: "1", C: "" };
    expect(digestText(fields, spec)).toBe("A=1|B=2|C=");
    expect(digestText(fields, { ...spec, fields: ["C", "B", "missing"], write: "values", join: "," })).toBe(
      ",2,",
    );
    expect(digestText(fields, { ...spec, fields: ["toString"], write: "values" })).toBe("");
  });
});

const keyed: Signing = {
  scheme: "keyed-digest",
  toleranceSeconds: 300,
  secret: "passphrase",
  digest: spec,
  from: "DIGEST",
  id: "NOTICE",
  time: "STAMP",
};
const form = (fields: Record<string, string>, secret = "secret one") =>
  Buffer.from(new URLSearchParams({ ...fields, DIGEST: keyedDigest(secret, fields, spec) }).toString());
const message = (body: Uint8Array) => ({
  method: "POST",
  url: "http://z.example/hooks/a",
  headers: {},
  body,
});
const fields = { NOTICE: "n1", STAMP: new Date(now).toISOString(), STATE: "SETTLED" };

describe("a message with a keyed digest over its fields", () => {
  const check = (body: Uint8Array, at = now, secrets = ["secret one"]) =>
    verifyMessage(keyed, "form", message(body), { secrets }, at);

  it("is believed, and known by its id", async () => {
    expect(await check(form(fields))).toEqual({ id: "n1" });
  });

  it("is believed with the secret before while one is being replaced", async () => {
    expect(await code(check(form(fields), now, ["secret two", "secret one"]))).toBe("good");
    expect(await code(check(form(fields), now, ["secret two"]))).toBe("signature-mismatch");
    expect(await code(check(form(fields), now, []))).toBe("key-missing");
  });

  it("is refused when replayed later, without a digest, or with anything changed", async () => {
    expect(await code(check(form(fields), now + 301_000))).toBe("timestamp-too-old");
    expect(await code(check(form({ ...fields, STAMP: "yesterday" })))).toBe("timestamp-malformed");
    expect(await code(check(Buffer.from("STATE=SETTLED")))).toBe("header-missing");
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom("NOTICE", "STAMP", "STATE", "EXTRA"),
        fc.string({ minLength: 1 }),
        async (name, value) => {
          const changed = new URLSearchParams(form(fields).toString());
          fc.pre(changed.get(name) !== value);
          changed.set(name, value);
          expect(await code(check(Buffer.from(changed.toString())))).toBe("signature-mismatch");
        },
      ),
    );
  });
});

describe("every way of signing", () => {
  it("refuses a message that carries nothing, and has words for it", async () => {
    const ways: Signing[] = [
      { scheme: "standard-webhooks", toleranceSeconds: 300 },
      {
        scheme: "http-message-signature",
        toleranceSeconds: 300,
        algorithm: "ed25519",
        key: "k",
        components: ["@method"],
        idHeader: "x-id",
      },
      { scheme: "detached-jws", toleranceSeconds: 300, header: "X-Jws", algorithms: ["ES256"] },
      keyed,
    ];
    for (const way of ways) {
      const found = await code(
        verifyMessage(
          way,
          "json",
          message(Buffer.from("{}")),
          { secrets: ["whsec_MDEyMzQ1Njc4OTAxMjM0NTY3ODk="] },
          now,
        ),
      );
      expect(found, way.scheme).toBe("header-missing");
      expect(verdictWords(found)).toBe("it carries no signature");
    }
    expect(verdictWords("toString")).toBe("toString");
  });

  it("takes a Standard Webhooks message by its secret", async () => {
    const secret = "whsec_MDEyMzQ1Njc4OTAxMjM0NTY3ODk=";
    const body = Buffer.from("{}");
    const headers = signStandard(secret, "m1", now, body);
    const signing: Signing = { scheme: "standard-webhooks", toleranceSeconds: 300 };
    expect(
      await verifyMessage(signing, "json", { ...message(body), headers }, { secrets: [secret] }, now),
    ).toEqual({ id: "m1" });
  });
});
