import { type Said, ToldError } from "#core/said";
import { spoken, tell } from "../../scripts/english";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import type { PaymentReading } from "#core/profiles/answers";
import type { OperationName } from "#core/profiles/profile";
import { call, openLine, saysWhat, type Line } from "#server/gateway/gateway";
import { must } from "../../demo/play";
import { openWorld, type SystemWorld } from "./world";

// What Karvello refuses, and how, reaches an administrator in our words; what was said is kept with nothing secret in it.

let world: SystemWorld;
let line: Line;
beforeAll(async () => {
  world = await openWorld({ beside: false });
  line = must(await openLine(world.rt, { connectionId: world.connectionId, mode: "test" }), "line");
});
afterAll(() => world.end());
beforeEach(() => world.rt.db.client.execute("delete from exchanges"));

let orders = 0;
const order = (change: object = {}) => ({
  amount: 4390,
  currency: "EUR",
  token: "play-approved",
  capture: "at-once",
  authentication: "issuer",
  statement: "LUVWINKEL",
  reference: `gate-${(orders += 1)}`,
  returnAddress: "http://localhost:1/back",
  idempotencyKey: `gate-once-${orders}`,
  ...change,
});
const ask = <N extends OperationName>(name: N, input: object, on: Line = line) =>
  call(world.rt, on, name, input as Record<string, unknown>);
const with_ = (change: Record<string, string>, mode: "test" | "live" = "test"): Line => ({
  ...line,
  mode,
  credentials: { ...line.credentials, ...change },
});
async function made(change: object = {}): Promise<PaymentReading> {
  const answer = await ask("create", order(change));
  if (answer.kind !== "answered") throw new ToldError(saysWhat("Karvello", answer));
  return answer.value;
}
const kept = async () =>
  (await world.rt.db.client.execute(`select * from exchanges where "to" = 'provider' order by at, id`)).rows;

describe("a refusal", () => {
  it.each([
    ["an unknown currency", "create", () => order({ currency: "SEK" }), "currency-unknown", "K-420"],
    ["too small an amount", "create", () => order({ amount: 49 }), "amount-too-small", "K-421"],
    ["a token that is not known", "create", () => order({ token: "tok_nobody" }), "token-refused", "K-430"],
    ["a malformed order", "create", () => order({ statement: "x".repeat(40) }), "malformed", "K-443"],
    ["an unknown payment", "read", () => ({ ref: "S-NOBODY" }), "not-found", "K-410"],
    ["an unknown webhook", "removeWebhook", () => ({ id: "bell_nobody" }), "not-found", "K-412"],
  ] as const)(
    "for %s says what kind it is, with the provider's own code",
    async (_, name, input, kind, code) => {
      const answer = await ask(name, input());
      expect(answer).toMatchObject({ kind: "refused", problem: { kind, code } });
      if (answer.kind === "refused") {
        expect(tell(answer.problem.text).length).toBeGreaterThan(5);
        expect(tell(saysWhat("Karvello", answer))).toBe(
          `Karvello says: ${tell(answer.problem.text)} (${code})`,
        );
      }
      expect(await kept()).toMatchObject([{ ok: 0 }]);
    },
  );

  it("for keys tells a wrong one, one of the other mode and one of another account apart", async () => {
    const kindOf = async (on: Line) => {
      const answer = await ask("account", {}, on);
      return answer.kind === "refused" ? answer.problem.kind : answer.kind;
    };
    expect(await kindOf(line)).toBe("answered");
    expect(await kindOf(with_({ "server-key": `kvs.s.${"a".repeat(32)}` }))).toBe("key-refused");
    expect(await kindOf(with_({ "server-key": world.keys.live["server-key"] ?? "" }))).toBe(
      "key-of-other-mode",
    );
    expect(await kindOf(with_({ "account-code": "KV-S-207790" }))).toBe("key-of-other-account");
    expect(await kindOf(with_({}, "live"))).toBe("key-of-other-mode");
  });

  it("of an action says which limit it met", async () => {
    const { ref } = await made({ capture: "later" });
    const problem = async (name: OperationName, amount: number) => {
      const answer = await ask(name, { ref, amount, idempotencyKey: `act-${(orders += 1)}` });
      return answer.kind === "refused" ? answer.problem.kind : answer.kind;
    };
    expect(await problem("refund", 100)).toBe("wrong-state");
    expect(await problem("capture", 4391)).toBe("beyond-authorised");
    expect(await problem("capture", 4000)).toBe("answered");
    expect(await problem("void", 4390)).toBe("wrong-state");
    expect(await problem("refund", 4001)).toBe("beyond-captured");
    expect(await problem("refund", 4000)).toBe("answered");
  });
});

describe("an operation", () => {
  it("reads a payment the same way by its number, by our reference and from the list", async () => {
    const input = order({ token: "play-celesta" });
    const created = await ask("create", input);
    const payment = created.kind === "answered" ? created.value : null;
    expect(payment).toMatchObject({
      amount: 4390,
      captured: 4390,
      currency: "EUR",
      instrument: "Celesta …0091",
    });
    const again = await ask("create", input);
    expect(again.kind === "answered" && again.value).toEqual(payment);
    const read = await ask("read", { ref: payment?.ref });
    expect(read.kind === "answered" && read.value).toEqual(payment);
    const found = await ask("find", { reference: input.reference });
    expect(found.kind === "answered" && found.value.payments).toEqual([payment]);
    const list = await ask("list", {});
    expect(list.kind === "answered" && list.value.payments).toContainEqual(payment);
    const none = await ask("find", { reference: "nobody" });
    expect(none.kind === "answered" && none.value.payments).toEqual([]);
  });

  it("that the profile has for test only cannot be asked of live", async () => {
    const { ref } = await made({ token: "play-ask" });
    expect(
      spoken(await ask("actForShopper", { ref, answer: "pass" }, with_(world.keys.live, "live"))),
    ).toEqual({
      kind: "unanswered",
      because: "not-allowed",
      says: "Karvello has no actForShopper in live mode",
    });
    expect(await kept()).toHaveLength(1);
  });

  it("handles webhooks: registered, listed, rung and removed", async () => {
    const secret = `whsec_${Buffer.alloc(32, 6).toString("base64")}`;
    const address = `${world.origin}/hooks/elsewhere`;
    const registered = await ask("registerWebhook", {
      address,
      secret,
      events: ["slip.taken"],
    });
    const id = registered.kind === "answered" ? registered.value.id : "";
    const addresses = async () => {
      const list = await ask("listWebhooks", {});
      return list.kind === "answered" ? list.value.webhooks : [];
    };
    expect(await addresses()).toContainEqual({ id, address, events: ["slip.taken"] });
    expect((await ask("pingWebhook", { id })).kind).toBe("answered");
    expect((await ask("removeWebhook", { id })).kind).toBe("answered");
    expect(await addresses()).not.toContainEqual({ id, address, events: ["slip.taken"] });
  });
});

describe("an exchange", () => {
  it("is kept with its request and answer, and nothing secret in either", async () => {
    const secret = `whsec_${Buffer.alloc(32, 7).toString("base64")}`;
    await call(
      world.rt,
      line,
      "registerWebhook",
      { address: `${world.origin}/hooks/x`, secret, events: [] },
      { secrets: [secret] },
    );
    await made();
    const rows = await kept();
    expect(rows.map((row) => (JSON.parse(String(row.label)) as Said).code)).toEqual([
      "gateway.register-webhook",
      "gateway.create-payment",
    ]);
    const text = JSON.stringify(rows);
    for (const hidden of [secret, line.credentials["server-key"] ?? "-"]) expect(text).not.toContain(hidden);
    expect(text).toContain(`…${(line.credentials["server-key"] ?? "").slice(-4)}`);
    const request = JSON.parse(String(rows[1]?.request)) as { method: string; url: string; body: string };
    expect(request).toMatchObject({ method: "POST" });
    expect(JSON.parse(request.body)).toMatchObject({ sum: 4390, coin: "EUR" });
    expect(Number(rows[1]?.duration)).toBeGreaterThanOrEqual(0);
  });

  it("in bad weather says what came instead of an answer", async () => {
    const outcomes: string[] = [];
    for (const kind of ["error", "html", "reset"]) {
      await world.weather(kind, 1);
      const answer = await ask("account", {});
      outcomes.push(answer.kind === "answered" ? "answered" : tell(saysWhat("Karvello", answer)));
    }
    expect(outcomes).toEqual([
      "Karvello says: Something broke (K-500)",
      "Karvello says: The answer is not JSON. (HTTP 502)",
      "Karvello could not be reached.",
    ]);
    expect((await kept()).map((row) => row.ok)).toEqual([0, 0, 0]);
  });

  it("does not follow a provider that sends it elsewhere", async () => {
    const asked: string[] = [];
    world.wire.http = (input, init) => {
      asked.push(`${String(input)} ${String(init?.redirect)}`);
      return Promise.resolve(
        new Response(null, { status: 302, headers: { location: "http://169.254.169.254/" } }),
      );
    };
    const answer = await ask("account", {});
    world.wire.http = null;
    expect(asked).toEqual([`${world.standins}/karvello/sandbox/api/account manual`]);
    expect(answer).toMatchObject({ kind: "refused", problem: { kind: "provider-fault" } });
  });

  it("is not even begun with an address in a private network, unless the operator allows it", async () => {
    const { settings } = world;
    settings.allowPrivateAddresses = false;
    const answer = await ask("account", {});
    settings.allowPrivateAddresses = true;
    expect(answer).toMatchObject({ kind: "unanswered", because: "not-allowed" });
    expect(await kept()).toEqual([]);
  });
});
