import {
  createHash,
  createHmac,
  createPublicKey,
  generateKeyPairSync,
  randomBytes,
  sign,
  timingSafeEqual,
  verify,
} from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import type { Signing } from "#core/profiles/profile";
import { keyedDigest } from "#core/profiles/digest";
import { readProfile } from "#core/profiles/read-profile";
import { buildRequest } from "#core/profiles/request";
import { readResponse } from "#core/profiles/response";
import { secretFromBytes, sign as signStandard } from "#core/webhooks/standard-webhooks";
import { type VerifyingKeys, verifyMessage } from "#core/webhooks/verify";
import type { SignedMessage } from "#core/webhooks/message";
import { percentile, round } from "./figures";

const profiles = readdirSync("profiles").map((name) => {
  const reading = readProfile(JSON.parse(readFileSync(`profiles/${name}`, "utf8")));
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.profile;
});

async function timedAsync(times: number, work: () => Promise<unknown>): Promise<number[]> {
  for (let i = 0; i < times / 5; i++) await work();
  const found: number[] = [];
  for (let i = 0; i < times; i++) {
    const start = performance.now();
    await work();
    found.push(performance.now() - start);
  }
  return found;
}

/** Building an order to pay, and reading an account and a list of payments, for every shipped profile. */
export async function measureInterpreting() {
  const requests: number[] = [];
  const answers: number[] = [];
  for (const profile of profiles) {
    const credentials = Object.fromEntries(profile.fields.map((field) => [field.id, "x".repeat(32)]));
    const name = profile.operations.create ? "create" : "account";
    const input = {
      amount: 4390,
      currency: "EUR",
      reference: "z-1",
      capture: "at-once",
      idempotencyKey: "1",
      token: "t",
      methodId: "wallet",
      returnAddress: "http://z.example/back",
      statement: "LUVWINKEL",
      authentication: "issuer",
    };
    const around = { now: 1_700_000_000_000, nonce: "n", token: "t" };
    requests.push(
      ...(await timedAsync(400, () => buildRequest(profile, "test", name, input, credentials, around))),
    );
    // Some list plain words where others list records.
    const plain = profile.operations.account.response.includes("coins.{'charged': $");
    const body =
      profile.format.response === "form"
        ? "RESULT=00&OUTLET=40119213&NAME=Luvwinkel&COUNTRY=DE&OPEN=Y&REVIEW=OPEN&CURRENCY.0.CHARGED=EUR&CURRENCY.0.SETTLED=EUR"
        : JSON.stringify({
            id: "a",
            name: "Luvwinkel",
            land: "DE",
            moneys: [{ coin: "EUR", pays: "EUR" }],
            open: true,
            review: "open",
            home: "DE",
            trading_as: "Luvwinkel",
            open_for_business: true,
            house: "h",
            seller: "s",
            merchant: {
              id: "a",
              name: "Luvwinkel",
              country: "DE",
              settles: [{ currency: "EUR", into: "EUR" }],
            },
            standing: { active: true, word: "open" },
            ways: [{ way: "wallet", on: true }],
            code: "c",
            coins: plain ? ["EUR"] : [{ coin: "EUR", pays_out_in: "EUR" }],
            networks: plain ? ["Norda"] : [{ network: "Norda", on: true }],
            terms: [{ months: 6, on: true }],
            scan: true,
            currencies: ["EUR"],
          });
    answers.push(...(await timedAsync(400, () => readResponse(profile, "account", { status: 200, body }))));
  }
  const reach = "p95 under 1 ms";
  return {
    buildRequest: { p95ms: round(percentile(requests, 0.95), 3), reach },
    readAnswer: { p95ms: round(percentile(answers, 0.95), 3), reach },
  };
}

const NOW = 1_700_000_000_000;
const body = Buffer.from(JSON.stringify({ kind: "payment", note: "x".repeat(660) }));
const perSecond = (times: readonly number[]) => Math.round(1000 / percentile(times, 0.5));

/** Each way of signing: messages verified in a second, beside the same cryptography by itself. */
export async function measureSignatures() {
  const result: Record<string, unknown> = {};
  const compare = async (
    name: string,
    signing: Signing,
    message: SignedMessage,
    keys: VerifyingKeys,
    bare: () => boolean,
  ) => {
    const format = signing.scheme === "keyed-digest" ? "form" : "json";
    const ours = await timedAsync(3_000, () => verifyMessage(signing, format, message, keys, NOW));
    const alone = await timedAsync(3_000, () => Promise.resolve(bare()));
    if (!bare()) throw new Error(`${name}: the bare check does not hold`);
    result[name] = {
      perSecond: perSecond(ours),
      bareNodeCryptoPerSecond: perSecond(alone),
      ratio: round(percentile(alone, 0.5) / percentile(ours, 0.5)),
    };
  };
  const at = (headers: Record<string, string>, what: Uint8Array = body): SignedMessage => ({
    method: "POST",
    url: "https://z.example/hooks/a",
    headers,
    body: what,
  });
  const toleranceSeconds = 300;

  const secret = secretFromBytes(randomBytes(32));
  const headers = signStandard(secret, "m1", NOW, body);
  const key = Buffer.from(secret.slice(6), "base64");
  const mac = (bytes: Buffer, text: string | Buffer, given: Buffer) =>
    timingSafeEqual(createHmac("sha256", bytes).update(text).digest(), given);
  const standard = Buffer.concat([Buffer.from(`m1.${NOW / 1000}.`), body]);
  const standardMac = createHmac("sha256", key).update(standard).digest();
  await compare(
    "standardWebhooks",
    { scheme: "standard-webhooks", toleranceSeconds },
    at(headers),
    { secrets: [secret] },
    () => mac(key, standard, standardMac),
  );

  const digest = `sha-256=:${createHash("sha256").update(body).digest("base64")}:`;
  const components = ["@method", "@target-uri", "content-digest"];
  const parameters = `(${components.map((one) => `"${one}"`).join(" ")});created=${NOW / 1000}`;
  const base = Buffer.from(
    `"@method": POST\n"@target-uri": https://z.example/hooks/a\n"content-digest": ${digest}\n"@signature-params": ${parameters}`,
  );
  const signed = (value: Buffer) =>
    at({
      "content-digest": digest,
      "signature-input": `a=${parameters}`,
      signature: `a=:${value.toString("base64")}:`,
    });
  const ed = generateKeyPairSync("ed25519");
  const x = (ed.publicKey.export({ format: "jwk" }) as { x: string }).x;
  const edValue = sign(null, base, ed.privateKey);
  const edKey = createPublicKey({ key: { kty: "OKP", crv: "Ed25519", x }, format: "jwk" });
  const message = {
    scheme: "http-message-signature" as const,
    toleranceSeconds,
    key: "k",
    components,
    idHeader: "x-id",
  };
  await compare(
    "httpMessageSignatureEd25519",
    { ...message, algorithm: "ed25519" },
    signed(edValue),
    { secrets: [x] },
    () => verify(null, base, edKey, edValue) && createHash("sha256").update(body).digest().length === 32,
  );
  const shared = randomBytes(32);
  const macValue = createHmac("sha256", shared).update(base).digest();
  await compare(
    "httpMessageSignatureHmac",
    { ...message, algorithm: "hmac-sha256" },
    signed(macValue),
    { secrets: [shared.toString("base64")] },
    () => mac(shared, base, macValue) && createHash("sha256").update(body).digest().length === 32,
  );

  const ec = generateKeyPairSync("ec", { namedCurve: "P-256" });
  const head = Buffer.from(
    JSON.stringify({ alg: "ES256", kid: "1", b64: false, crit: ["b64"], iat: NOW / 1000, jti: "m1" }),
  ).toString("base64url");
  const said = Buffer.concat([Buffer.from(`${head}.`), body]);
  const ecValue = sign("sha256", said, { key: ec.privateKey, dsaEncoding: "ieee-p1363" });
  const set = { keys: [{ ...ec.publicKey.export({ format: "jwk" }), kid: "1", alg: "ES256" }] };
  await compare(
    "detachedJwsEs256",
    { scheme: "detached-jws", toleranceSeconds, header: "X-Jws", algorithms: ["ES256"] },
    at({ "x-jws": `${head}..${ecValue.toString("base64url")}` }),
    { secrets: [], set },
    () => verify("sha256", said, { key: ec.publicKey, dsaEncoding: "ieee-p1363" }, ecValue),
  );

  const spec = {
    algorithm: "hmac-sha256" as const,
    fields: "sorted" as const,
    write: "pairs" as const,
    join: "|",
    encoding: "hex" as const,
  };
  const fields = { NOTICE: "n1", STAMP: new Date(NOW).toISOString(), TEXT: "x".repeat(600) };
  const given = keyedDigest("passphrase", fields, spec);
  const form = Buffer.from(new URLSearchParams({ ...fields, DIGEST: given }).toString());
  const written = Buffer.from(`NOTICE=n1|STAMP=${fields.STAMP}|TEXT=${fields.TEXT}`);
  await compare(
    "keyedDigest",
    {
      scheme: "keyed-digest",
      toleranceSeconds,
      secret: "s",
      digest: spec,
      from: "DIGEST",
      id: "NOTICE",
      time: "STAMP",
    },
    at({}, form),
    { secrets: ["passphrase"] },
    () => mac(Buffer.from("passphrase"), written, Buffer.from(given, "hex")),
  );
  return result;
}
