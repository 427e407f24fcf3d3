import { speaking } from "../../scripts/english";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { addConnection } from "#server/connections/connections";
import { followReviews } from "#server/connections/following";
import { enterKey as enterKeySaid, enterKeys } from "#server/connections/keys";
import { proveKeys } from "#server/connections/proving";
import {
  finishLink as finishLinkSaid,
  latestLink as latestLinkSaid,
  startLink,
} from "#server/connections/link";
import { retireKeys } from "#server/connections/rotation";
import { registerWebhook as registerWebhookSaid } from "#server/connections/webhook";
import { call, openLine } from "#server/gateway/gateway";
import { profileOf } from "#server/profiles/profiles";
import { AtKarvello } from "../../demo/karvello";
import { atDashboard, keysAt } from "../../demo/dashboards";
import { until } from "../../demo/play";
import { AtProviders, must } from "./at-providers";
import type { SystemWorld } from "./world";

const enterKey = speaking(enterKeySaid);
const finishLink = speaking(finishLinkSaid);
const latestLink = speaking(latestLinkSaid);
const registerWebhook = speaking(registerWebhookSaid);

let at: AtProviders;
let world: SystemWorld;
beforeAll(async () => {
  at = await AtProviders.open({ beside: false });
  world = at.world;
});
afterAll(() => world.end());

describe("keys", () => {
  it("of each provider are proven by calls, and the account is read back", async () => {
    for (const provider of ["ostwick", "pennywhistle", "quippa", "thumbra", "ratenhaus"]) {
      const { id } = await at.connected(provider);
      const { fields, account, review, unanswered } = await at.column(id);
      const states = Object.values(fields).map((cell) => cell.state);
      expect(
        states.every((state) => state === "proven" || state === "entered"),
        `${provider} ${states.join()} ${unanswered}`,
      ).toBe(true);
      expect(account?.country, provider).toMatch(/^[A-Z]{2}$/);
      expect(review, provider).toBe("approved");
    }
  });

  it("open an account whose methods and networks are told, and what is switched off over there", async () => {
    const { id, desk } = await at.connected("ostwick");
    const card = async () => (await at.column(id)).account?.methods;
    const all = ["Norda", "Celesta", "Umbra"];
    expect(await card()).toMatchObject([{ on: true, networks: all, off: [], where: "under “Ways to pay”" }]);
    await desk.press("sandbox", "way", { way: "Umbra" });
    await proveKeys(world.rt, await at.where(id), "test");
    expect(await card()).toMatchObject([{ on: true, networks: ["Norda", "Celesta"], off: ["Umbra"] }]);
    await desk.press("sandbox", "way", { way: "Umbra" });
  });

  it("entered at the same moment are both kept, and the newest count, whichever call ends last", async () => {
    const { id, keys } = await at.connected("quippa");
    const enter = async (field: string, value: string) =>
      enterKey(world.rt, "ida", await at.where(id), "test", field, value);
    const [merchant, key] = [must(keys["merchant-id"]), must(keys["api-key"])];
    const both = await Promise.all([enter("merchant-id", merchant), enter("api-key", key)]);
    expect(both.map((one) => one.ok)).toEqual([true, true]);
    expect((await at.column(id)).fields).toMatchObject({
      "merchant-id": { state: "proven" },
      "api-key": { state: "proven" },
    });

    let slow: Promise<unknown> | undefined;
    const begun = new Promise<() => void>((begin) => {
      world.wire.http = async (...request) => {
        world.wire.http = null;
        await new Promise<void>((end) => begin(end));
        return fetch(...request);
      };
      slow = enter("api-key", key);
    });
    const end = await begun;
    await enter("merchant-id", "MT60999");
    end();
    await slow;
    expect((await at.column(id)).fields["merchant-id"]).toMatchObject({ state: "wrong" });
    await enter("merchant-id", merchant);
    expect((await at.column(id)).fields["merchant-id"]).toMatchObject({ state: "proven" });
  });

  it("that look alike are told apart before the call, and named after a refusal", async () => {
    const { id, desk } = await at.connected("ostwick");
    const merchant = await desk.shows("sandbox", "merchant");
    const before = await enterKey(world.rt, "ida", await at.where(id), "test", "outlet-id", merchant);
    expect(before).toMatchObject({
      ok: false,
      code: "look-alike",
      says: expect.stringMatching(/merchant number at the acquiring bank/) as string,
    });
    const group = await desk.shows("sandbox", "group");
    expect((await enterKey(world.rt, "ida", await at.where(id), "test", "outlet-id", group)).ok).toBe(true);
    expect((await at.column(id)).fields["outlet-id"]).toMatchObject({
      state: "wrong",
      code: "E21",
      says: expect.stringMatching(/is a terminal group, not an outlet/) as string,
    });
    expect((await at.column(id)).fields.passphrase?.state).toBe("entered");
  });

  it("of the other column, are not kept twice; another connection may use the same account", async () => {
    const { id, desk } = await at.connected("ratenhaus", "live");
    const secret = await desk.shows("live", "letter-secret");
    const twice = await enterKey(world.rt, "ida", await at.where(id), "test", "letter-secret", secret);
    expect(twice).toMatchObject({
      ok: false,
      says: "The same key stands in the live column. Each side has keys of its own.",
    });
    const profile = must(await profileOf(world.rt, "ratenhaus"));
    const other = await addConnection(world.rt, "ida", {
      profile,
      storefrontId: "luvwinkel-de",
      name: "Second house",
    });
    expect(
      await enterKey(world.rt, "ida", await at.where(other), "live", "letter-secret", secret),
    ).toMatchObject({
      ok: true,
    });
  });

  it("that lack a right are told which, and what is lost without it", async () => {
    const karvello = new AtKarvello(world.standins);
    await karvello.signIn();
    const profile = must(await profileOf(world.rt, "karvello"));
    const id = await addConnection(world.rt, "ida", { profile, storefrontId: "luvwinkel-de" });
    const keys = await karvello.keys("sandbox", "list");
    await enterKeys(world.rt, "ida", await at.where(id), "test", keys);
    const rights = Object.fromEntries((await at.column(id)).rights.map((right) => [right.label, right.has]));
    expect(rights).toEqual({ Bells: false, "Giving back": false, "Listing slips": true });
    expect(await registerWebhook(world.rt, "ida", await at.where(id), "test")).toMatchObject({
      ok: false,
      says: expect.stringMatching(/K-405/) as string,
    });
  });

  it("are replaced beside the old ones, and these retired, without anything breaking in between", async () => {
    const { id, desk } = await at.connected("quippa");
    const first = must(await openLine(world.rt, { connectionId: id, mode: "test" }));
    const next = await desk.press("sandbox", "api");
    await enterKey(world.rt, "ida", await at.where(id), "test", "api-key", next);
    const replaced = await at.column(id);
    expect(replaced.fields["api-key"]?.state).toBe("proven");
    expect(Object.values(must(replaced.earlier).hints)).toEqual([
      must(first.credentials["api-key"]).slice(-4),
    ]);
    expect(await retireKeys(world.rt, "ida", await at.where(id), "test")).toBe(true);
    expect((await at.column(id)).earlier).toBeNull();
    // A payment that began with the old keys goes on with the new ones.
    const line = must(await openLine(world.rt, { connectionId: id, mode: "test", keySetId: first.keySetId }));
    expect(line.credentials["api-key"]).toBe(next);
    const { rows } = await world.rt.db.client.execute({
      sql: "select [values] from key_sets where id = ?",
      args: [first.keySetId],
    });
    expect(JSON.parse(String(rows[0]?.values))["api-key"].value).toBe("");
    // Nor does a wrong paste since then strand it.
    await enterKey(world.rt, "ida", await at.where(id), "test", "api-key", `quip.trial.${"z".repeat(30)}`);
    expect((await at.column(id)).fields["api-key"]?.state).toBe("wrong");
    expect(
      must(await openLine(world.rt, { connectionId: id, mode: "test", keySetId: first.keySetId }))
        .credentials["api-key"],
    ).toBe(next);
    // Nor does a move to another account, whose keys know nothing of it.
    const elsewhere = await keysAt(desk, "sandbox", "MT60167");
    await enterKeys(world.rt, "ida", await at.where(id), "test", elsewhere);
    expect((await at.column(id)).fields["api-key"]?.state).toBe("proven");
    const still = must(
      await openLine(world.rt, { connectionId: id, mode: "test", keySetId: first.keySetId }),
    );
    expect(still.credentials["api-key"]).toBe(next);
    expect(elsewhere["api-key"]).not.toBe(next);
  });
});

describe("an account under review", () => {
  it("is followed as the provider tells it, and says what can be done meanwhile", async () => {
    const desk = await atDashboard(world.standins, "pennywhistle");
    const profile = must(await profileOf(world.rt, "pennywhistle"));
    const id = await addConnection(world.rt, "ida", { profile, storefrontId: "luvwinkel-de" });
    const account = "STAG-4174";
    const [clientId = "", secret = ""] = (await desk.press("live", "client", { account })).split(/\s+/);
    await enterKeys(world.rt, "ida", await at.where(id), "live", {
      "client-id": clientId,
      "client-secret": secret,
    });
    expect(await at.column(id, "live")).toMatchObject({
      review: "restricted",
      account: { mayCharge: false },
    });
    expect((await registerWebhook(world.rt, "ida", await at.where(id), "live")).ok).toBe(true);
    for (const [to, state] of [
      ["applied", "applied"],
      ["looking", "in-review"],
      ["turned_down", "declined"],
      ["open", "approved"],
    ] as const) {
      await desk.press("live", "review", { account, to });
      await until(state, async () => (await at.column(id, "live")).review === state);
    }
    expect((await at.column(id, "live")).account?.mayCharge).toBe(true);
  });
});

it("an account under review is asked about again after a while, whether or not the provider tells", async () => {
  const account = "MC60167";
  const { id, desk } = await at.connected("quippa", "live", account);
  await desk.press("live", "review", { account, to: "looking" });
  await proveKeys(world.rt, await at.where(id), "live");
  expect((await at.column(id, "live")).review).toBe("in-review");
  await desk.press("live", "review", { account, to: "open" });
  await followReviews(world.rt);
  expect((await at.column(id, "live")).review).toBe("in-review");
  world.clock.offset = 11 * 60_000;
  // Whatever was put off while the clock stood further on in a test before.
  await world.rt.db.client.execute("delete from jobs where kind = 'check-account'");
  await followReviews(world.rt);
  world.rt.nudge();
  await until("the review", async () => (await at.column(id, "live")).review === "approved");
  world.clock.offset = 0;
});

describe("linking", () => {
  const begun = async (id: string) => {
    const address = new URL(
      must(await startLink(world.rt, "ida", await at.where(id), "luvwinkel-de", "test")),
    );
    return { address, state: must(address.searchParams.get("state")) };
  };
  const agree = async (address: URL, press: "agree" | "refuse") => {
    const { searchParams } = address;
    const answer = await fetch(`${world.standins}/pennywhistle/sandbox/id/agree`, {
      method: "POST",
      redirect: "manual",
      body: new URLSearchParams({
        redirect_uri: must(searchParams.get("redirect_uri")),
        state: must(searchParams.get("state")),
        code_challenge: must(searchParams.get("code_challenge")),
        merchant: "PRAC-4137",
        press,
      }),
    });
    return new URL(must(answer.headers.get("location"))).searchParams;
  };
  const fresh = async () => {
    const profile = must(await profileOf(world.rt, "pennywhistle"));
    return addConnection(world.rt, "ida", { profile, storefrontId: "luvwinkel-de" });
  };

  it("brings the keys by itself, once", async () => {
    const id = await fresh();
    const { address } = await begun(id);
    expect(address.searchParams.get("code_challenge_method")).toBe("S256");
    const back = await agree(address, "agree");
    expect(await finishLink(world.rt, "ida", back)).toMatchObject({ ok: true });
    expect((await at.column(id)).fields).toMatchObject({
      "client-id": { state: "proven" },
      "client-secret": { state: "proven" },
    });
    expect(await finishLink(world.rt, "ida", back)).toMatchObject({
      ok: false,
      says: expect.stringMatching(/ended already/) as string,
    });
    expect(await latestLink(world.rt, id, "test")).toMatchObject({ state: "linked" });
    const secret = must(
      must(await openLine(world.rt, { connectionId: id, mode: "test" })).credentials["client-secret"],
    );
    const { rows } = await world.rt.db.client.execute({
      sql: "select id from exchanges where coalesce(request, '') || coalesce(response, '') like ?",
      args: [`%${secret}%`],
    });
    expect(rows).toEqual([]);
  });

  it("that is refused, abandoned, forged or somebody else's changes nothing and says so", async () => {
    const id = await fresh();
    const refused = await finishLink(world.rt, "ida", await agree((await begun(id)).address, "refuse"));
    expect(refused).toMatchObject({ ok: false, says: expect.stringMatching(/refused over there/) as string });
    const { state, address } = await begun(id);
    expect(await finishLink(world.rt, "mallory", new URLSearchParams({ state, code: "x" }))).toMatchObject({
      ok: false,
      link: null,
    });
    expect(
      await finishLink(world.rt, "ida", new URLSearchParams({ state: "forged", code: "x" })),
    ).toMatchObject({ ok: false, link: null });
    const forged = await agree(address, "agree");
    forged.set("code", "made-up");
    expect(await finishLink(world.rt, "ida", forged)).toMatchObject({
      ok: false,
      says: expect.stringMatching(/did not take the code/) as string,
    });
    await begun(id);
    world.clock.offset += 16 * 60_000;
    expect(await latestLink(world.rt, id, "test")).toMatchObject({ state: "abandoned" });
    world.clock.offset = 0;
    expect((await at.column(id)).fields["client-id"]?.state).toBe("missing");
  });

  it("that is withdrawn later at the provider is noticed", async () => {
    const id = await fresh();
    await finishLink(world.rt, "ida", await agree((await begun(id)).address, "agree"));
    const desk = await atDashboard(world.standins, "pennywhistle");
    const client = must(await openLine(world.rt, { connectionId: id, mode: "test" })).credentials[
      "client-id"
    ];
    await desk.press("sandbox", "withdraw", { client: must(client) });
    const { proveKeys } = await import("#server/connections/proving");
    await proveKeys(world.rt, await at.where(id), "test");
    expect((await at.column(id)).fields["client-secret"]).toMatchObject({
      state: "wrong",
      says: expect.stringMatching(/access was withdrawn/) as string,
    });
  });
});

describe("access tokens", () => {
  it("are fetched once for many calls, kept until they end, and fetched anew when they are no longer taken", async () => {
    const { id } = await at.connected("pennywhistle");
    const line = must(await openLine(world.rt, { connectionId: id, mode: "test" }));
    const fetched = async () =>
      (await world.rt.db.orm.query.exchanges.findMany()).filter(
        (one) => one.connectionId === id && one.operation === "token",
      ).length;
    const start = await fetched();
    await Promise.all(Array.from({ length: 6 }, () => call(world.rt, line, "account", {})));
    expect(await fetched()).toBe(start);
    world.clock.offset = 290_000;
    await Promise.all(Array.from({ length: 6 }, () => call(world.rt, line, "account", {})));
    expect(await fetched()).toBe(start + 1);
    world.clock.offset = 0;
    let refusals = 0;
    world.wire.http = async (input, init) => {
      if (String(input).includes("/me") && refusals++ === 0)
        return new Response('{"error":{"name":"token_over"}}', { status: 401 });
      return fetch(input, init);
    };
    expect((await call(world.rt, line, "account", {})).kind).toBe("answered");
    expect(await fetched()).toBe(start + 2);
    world.wire.http = async (input, init) =>
      String(input).includes("/me")
        ? new Response('{"error":{"name":"token_over"}}', { status: 401 })
        : fetch(input, init);
    expect(await call(world.rt, line, "account", {})).toMatchObject({
      kind: "refused",
      problem: { code: "token_over" },
    });
    world.wire.http = null;
  });
});
