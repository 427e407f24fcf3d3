import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Mode } from "#core/mode";
import {
  addConnection,
  connectionOf,
  currentEndpoint,
  endpointAddress,
} from "#server/connections/connections";
import { disconnect, lossOf, serveStorefront } from "#server/connections/disconnect";
import { lookAtDomain, takeFile } from "#server/connections/domain";
import { columnOf } from "#server/connections/handshake";
import { followRegistrations, followReviews, followSilence } from "#server/connections/following";
import { enterKey, enterKeys } from "#server/connections/keys";
import { proveKeys } from "#server/connections/proving";
import { finishLink, latestLink, startLink } from "#server/connections/link";
import { retireKeys } from "#server/connections/rotation";
import {
  lookAtRegistrations,
  mendRegistrations,
  pingWebhook,
  registerWebhook,
  renewWebhook,
} from "#server/connections/webhook";
import { call, openLine } from "#server/gateway/gateway";
import { listExchanges } from "#server/gateway/list";
import { addOffer, saveOffer, switchOffer } from "#server/offers/offers";
import { installDocument, lookAtDocument, removeProfile } from "#server/profiles/install";
import { profileOf } from "#server/profiles/profiles";
import { storefrontOf } from "#server/storefronts/storefronts";
import { AtKarvello } from "../../demo/karvello";
import { type AtDashboard, atDashboard, keysAt } from "../../demo/dashboards";
import { offerNow, until } from "../../demo/play";
import { openWorld, type SystemWorld } from "./world";

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld();
});
afterAll(() => world.end());

const must = <T>(value: T | null | undefined): T => {
  if (value === null || value === undefined) throw new Error("missing");
  return value;
};
const storefront = async () => must(await storefrontOf(world.rt, "luvwinkel-de"));
const where = async (id: string) => must(await connectionOf(world.rt, id));
const column = async (id: string, mode: Mode = "test") =>
  columnOf(world.rt, await where(id), await storefront(), mode);

const made = new Map<string, string>();

/** Connects an account with the keys its dashboard shows; once, since an account is connected once. */
async function connected(provider: string, mode: Mode = "test", account?: string) {
  const desk = await atDashboard(world.standins, provider);
  const name = `${provider} ${account ?? ""}`;
  const profile = must(await profileOf(world.rt, provider));
  const id =
    made.get(name) ?? (await addConnection(world.rt, "ida", { profile, storefrontId: "luvwinkel-de" }));
  made.set(name, id);
  const keys = await keysAt(desk, mode === "test" ? "sandbox" : "live", account);
  await enterKeys(world.rt, "ida", await where(id), mode, keys);
  return { id, desk, keys };
}
const heard = async (id: string, mode: Mode = "test") => (await currentEndpoint(world.rt, id, mode)).heardAt;
const webhookOf = async (id: string) =>
  endpointAddress(world.rt, await currentEndpoint(world.rt, id, "test"));

describe("keys", () => {
  it("of each provider are proven by calls, and the account is read back", async () => {
    for (const provider of ["ostwick", "pennywhistle", "quippa", "thumbra", "ratenhaus"]) {
      const { id } = await connected(provider);
      const { fields, account, review, unanswered } = await column(id);
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
    const { id, desk } = await connected("ostwick");
    const card = async () => (await column(id)).account?.methods;
    const all = ["Norda", "Celesta", "Umbra"];
    expect(await card()).toMatchObject([{ on: true, networks: all, off: [], where: "under “Ways to pay”" }]);
    await desk.press("sandbox", "way", { way: "Umbra" });
    await proveKeys(world.rt, await where(id), "test");
    expect(await card()).toMatchObject([{ on: true, networks: ["Norda", "Celesta"], off: ["Umbra"] }]);
    await desk.press("sandbox", "way", { way: "Umbra" });
  });

  it("entered at the same moment are both kept, and the newest count, whichever call ends last", async () => {
    const { id, keys } = await connected("quippa");
    const enter = async (field: string, value: string) =>
      enterKey(world.rt, "ida", await where(id), "test", field, value);
    const [merchant, key] = [must(keys["merchant-id"]), must(keys["api-key"])];
    const both = await Promise.all([enter("merchant-id", merchant), enter("api-key", key)]);
    expect(both.map((one) => one.ok)).toEqual([true, true]);
    expect((await column(id)).fields).toMatchObject({
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
    expect((await column(id)).fields["merchant-id"]).toMatchObject({ state: "wrong" });
    await enter("merchant-id", merchant);
    expect((await column(id)).fields["merchant-id"]).toMatchObject({ state: "proven" });
  });

  it("that look alike are told apart before the call, and named after a refusal", async () => {
    const { id, desk } = await connected("ostwick");
    const merchant = await desk.shows("sandbox", "merchant");
    const before = await enterKey(world.rt, "ida", await where(id), "test", "outlet-id", merchant);
    expect(before).toMatchObject({
      ok: false,
      code: "look-alike",
      says: expect.stringMatching(/merchant number at the acquiring bank/) as string,
    });
    const group = await desk.shows("sandbox", "group");
    expect((await enterKey(world.rt, "ida", await where(id), "test", "outlet-id", group)).ok).toBe(true);
    expect((await column(id)).fields["outlet-id"]).toMatchObject({
      state: "wrong",
      code: "E21",
      says: expect.stringMatching(/is a terminal group, not an outlet/) as string,
    });
    expect((await column(id)).fields.passphrase?.state).toBe("entered");
  });

  it("of the other column, or of another connection, are not kept twice", async () => {
    const { id, desk } = await connected("ratenhaus", "live");
    const secret = await desk.shows("live", "letter-secret");
    const twice = await enterKey(world.rt, "ida", await where(id), "test", "letter-secret", secret);
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
    const taken = await enterKey(world.rt, "ida", await where(other), "live", "letter-secret", secret);
    expect(taken).toMatchObject({
      ok: false,
      says: expect.stringMatching(/belongs to the connection “Ratenhaus/) as string,
    });
  });

  it("that lack a right are told which, and what is lost without it", async () => {
    const karvello = new AtKarvello(world.standins);
    await karvello.signIn();
    const profile = must(await profileOf(world.rt, "karvello"));
    const id = await addConnection(world.rt, "ida", { profile, storefrontId: "luvwinkel-de" });
    const keys = await karvello.keys("sandbox", "list");
    await enterKeys(world.rt, "ida", await where(id), "test", keys);
    const rights = Object.fromEntries((await column(id)).rights.map((right) => [right.label, right.has]));
    expect(rights).toEqual({ Bells: false, "Giving back": false, "Listing slips": true });
    expect(await registerWebhook(world.rt, "ida", await where(id), "test")).toMatchObject({
      ok: false,
      says: expect.stringMatching(/K-405/) as string,
    });
  });

  it("are replaced beside the old ones, and these retired, without anything breaking in between", async () => {
    const { id, desk } = await connected("quippa");
    const first = must(await openLine(world.rt, id, "test"));
    const next = await desk.press("sandbox", "api");
    await enterKey(world.rt, "ida", await where(id), "test", "api-key", next);
    const replaced = await column(id);
    expect(replaced.fields["api-key"]?.state).toBe("proven");
    expect(Object.values(must(replaced.earlier).hints)).toEqual([
      must(first.credentials["api-key"]).slice(-4),
    ]);
    expect(await retireKeys(world.rt, "ida", await where(id), "test")).toBe(true);
    expect((await column(id)).earlier).toBeNull();
    // A payment that began with the old keys goes on with the new ones.
    const line = must(await openLine(world.rt, id, "test", first.keySetId));
    expect(line.credentials["api-key"]).toBe(next);
    const { rows } = await world.rt.db.client.execute({
      sql: "select [values] from key_sets where id = ?",
      args: [first.keySetId],
    });
    expect(JSON.parse(String(rows[0]?.values))["api-key"].value).toBe("");
    // Nor does a wrong paste since then strand it.
    await enterKey(world.rt, "ida", await where(id), "test", "api-key", `quip.trial.${"z".repeat(30)}`);
    expect((await column(id)).fields["api-key"]?.state).toBe("wrong");
    expect(must(await openLine(world.rt, id, "test", first.keySetId)).credentials["api-key"]).toBe(next);
    await enterKey(world.rt, "ida", await where(id), "test", "api-key", next);
  });
});

describe("an account under review", () => {
  it("is followed as the provider tells it, and says what can be done meanwhile", async () => {
    const desk = await atDashboard(world.standins, "pennywhistle");
    const profile = must(await profileOf(world.rt, "pennywhistle"));
    const id = await addConnection(world.rt, "ida", { profile, storefrontId: "luvwinkel-de" });
    const account = "STAG-4174";
    const [clientId = "", secret = ""] = (await desk.press("live", "client", { account })).split(/\s+/);
    await enterKeys(world.rt, "ida", await where(id), "live", {
      "client-id": clientId,
      "client-secret": secret,
    });
    expect(await column(id, "live")).toMatchObject({ review: "restricted", account: { mayCharge: false } });
    expect((await registerWebhook(world.rt, "ida", await where(id), "live")).ok).toBe(true);
    for (const [to, state] of [
      ["applied", "applied"],
      ["looking", "in-review"],
      ["turned_down", "declined"],
      ["open", "approved"],
    ] as const) {
      await desk.press("live", "review", { account, to });
      await until(state, async () => (await column(id, "live")).review === state);
    }
    expect((await column(id, "live")).account?.mayCharge).toBe(true);
  });
});

it("an account under review is asked about again after a while, whether or not the provider tells", async () => {
  const account = "MC60167";
  const { id, desk } = await connected("quippa", "live", account);
  await desk.press("live", "review", { account, to: "looking" });
  await proveKeys(world.rt, await where(id), "live");
  expect((await column(id, "live")).review).toBe("in-review");
  await desk.press("live", "review", { account, to: "open" });
  await followReviews(world.rt);
  expect((await column(id, "live")).review).toBe("in-review");
  world.clock.offset = 11 * 60_000;
  await followReviews(world.rt);
  expect((await column(id, "live")).review).toBe("approved");
  world.clock.offset = 0;
});

describe("linking", () => {
  const begun = async (id: string) => {
    const address = new URL(must(await startLink(world.rt, "ida", await where(id), "luvwinkel-de", "test")));
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
    expect((await column(id)).fields).toMatchObject({
      "client-id": { state: "proven" },
      "client-secret": { state: "proven" },
    });
    expect(await finishLink(world.rt, "ida", back)).toMatchObject({
      ok: false,
      says: expect.stringMatching(/ended already/) as string,
    });
    expect(await latestLink(world.rt, id, "test")).toMatchObject({ state: "linked" });
    const secret = must(must(await openLine(world.rt, id, "test")).credentials["client-secret"]);
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
    expect((await column(id)).fields["client-id"]?.state).toBe("missing");
  });

  it("that is withdrawn later at the provider is noticed", async () => {
    const id = await fresh();
    await finishLink(world.rt, "ida", await agree((await begun(id)).address, "agree"));
    const desk = await atDashboard(world.standins, "pennywhistle");
    const client = must(await openLine(world.rt, id, "test")).credentials["client-id"];
    await desk.press("sandbox", "withdraw", { client: must(client) });
    const { proveKeys } = await import("#server/connections/proving");
    await proveKeys(world.rt, await where(id), "test");
    expect((await column(id)).fields["client-secret"]).toMatchObject({
      state: "wrong",
      says: expect.stringMatching(/access was withdrawn/) as string,
    });
  });
});

describe("access tokens", () => {
  it("are fetched once for many calls, kept until they end, and fetched anew when they are no longer taken", async () => {
    const { id } = await connected("pennywhistle");
    const line = must(await openLine(world.rt, id, "test"));
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

describe("webhooks", () => {
  const byHand = async (provider: string) => {
    const { id, desk } = await connected(provider);
    await desk.press("sandbox", "address", { address: await webhookOf(id) });
    await desk.press("sandbox", "test");
    await until(`${provider} heard`, async () => (await heard(id)) !== null);
    return { id, desk };
  };
  const verdicts = async (id: string) =>
    (await world.rt.db.orm.query.webhooks.findMany())
      .filter((one) => one.connectionId === id)
      .map((one) => one.verdict);

  it("made known by hand prove what only a message can prove", async () => {
    const { id } = await byHand("ratenhaus");
    expect((await column(id)).fields["letter-secret"]?.state).toBe("proven");
    await byHand("ostwick");
  });

  it("signed with a replaced secret are believed while it is new here, and others are not", async () => {
    const { id, desk } = await byHand("ratenhaus");
    await desk.press("sandbox", "secret");
    await desk.press("sandbox", "test");
    await until("a refusal", async () => (await verdicts(id)).includes("signature-mismatch"));
    await enterKey(
      world.rt,
      "ida",
      await where(id),
      "test",
      "letter-secret",
      await desk.shows("sandbox", "letter-secret"),
    );
    expect((await column(id)).fields["letter-secret"]?.state).toBe("entered");
    await until("the new one", async () => {
      await desk.press("sandbox", "test");
      return (await column(id)).fields["letter-secret"]?.state === "proven";
    });
    // Once the earlier values are forgotten, messages go on being believed, and others refused.
    expect(await retireKeys(world.rt, "ida", await where(id), "test")).toBe(true);
    const before = must(await heard(id));
    world.clock.offset = 6_000;
    await desk.press("sandbox", "test");
    await until("one after", async () => must(await heard(id)) > before);
    world.clock.offset = 0;
  });

  it("are checked with the provider's published keys, fetched anew once for a key that is new", async () => {
    const { id, desk } = await connected("pennywhistle");
    await registerWebhook(world.rt, "ida", await where(id), "test");
    await pingWebhook(world.rt, await where(id), "test");
    await until("the first", async () => (await heard(id)) !== null);
    const before = must(await heard(id));
    // The kept set rests half a minute before it is fetched again.
    world.clock.offset = 31_000;
    await desk.press("sandbox", "turn");
    let sets = 0;
    world.wire.http = (input, init) => {
      if (String(input).endsWith("/id/keys")) sets += 1;
      return fetch(input, init);
    };
    await pingWebhook(world.rt, await where(id), "test");
    await until("with the new key", async () => must(await heard(id)) > before);
    await pingWebhook(world.rt, await where(id), "test");
    expect(sets).toBe(1);
    world.wire.http = null;
    world.clock.offset = 0;
  });

  it("that are forged or come a day late are kept apart and change nothing", async () => {
    const { id, desk } = await byHand("ostwick");
    const weather = (kind: string) =>
      fetch(`${world.standins}/weather/ostwick`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ side: "sandbox", kind, calls: 1 }),
      });
    await weather("badly-signed");
    await desk.press("sandbox", "test");
    await until("the forged one", async () => (await verdicts(id)).includes("signature-mismatch"));
    world.clock.offset = 86_400_000;
    await desk.press("sandbox", "test");
    await until("the late one", async () => (await verdicts(id)).includes("timestamp-too-old"));
    expect((await column(id)).webhook?.refused?.verdict).toBe("timestamp-too-old");
    world.clock.offset = 0;
  });

  it("registered twice, too little, or at an address that was given up are found and mended", async () => {
    const { id, desk } = await connected("pennywhistle");
    await registerWebhook(world.rt, "ida", await where(id), "test");
    await desk.press("sandbox", "hook", { to: await webhookOf(id) });
    await lookAtRegistrations(world.rt, await where(id), "test");
    expect((await column(id)).webhook?.faults[0]).toMatch(/registered 2 times/);
    expect((await mendRegistrations(world.rt, "ida", await where(id), "test")).ok).toBe(true);
    expect((await column(id)).webhook?.faults).toEqual([]);
    const given = await webhookOf(id);
    await renewWebhook(world.rt, "ida", await where(id), "test");
    await desk.press("sandbox", "hook", { to: given });
    await desk.press("sandbox", "hook", { to: "https://elsewhere.example/" });
    await lookAtRegistrations(world.rt, await where(id), "test");
    const seen = must((await column(id)).webhook);
    expect(seen.faults.join(" ")).toMatch(/gave up is still registered/);
    expect(seen.elsewhere).toBeGreaterThan(0);
    await mendRegistrations(world.rt, "ida", await where(id), "test");
    expect((await column(id)).webhook).toMatchObject({ faults: [], registered: true });
  });

  it("that went missing at the provider are noticed by themselves, and no sooner than an hour after the last look", async () => {
    const { id } = await connected("pennywhistle");
    await lookAtRegistrations(world.rt, await where(id), "test");
    const line = must(await openLine(world.rt, id, "test"));
    const hook = must((await currentEndpoint(world.rt, id, "test")).registration).id;
    await call(world.rt, line, "removeWebhook", { id: hook });
    await followRegistrations(world.rt);
    expect((await column(id)).webhook?.faults).toEqual([]);
    world.clock.offset = 61 * 60_000;
    await followRegistrations(world.rt);
    expect((await column(id)).webhook?.faults).toEqual(["The provider no longer lists this address."]);
    world.clock.offset = 0;
    await mendRegistrations(world.rt, "ida", await where(id), "test");
    expect((await column(id)).webhook).toMatchObject({ faults: [], registered: true });
  });

  it("that stay away well past their usual time are told of", async () => {
    const { rows } = await world.rt.db.client.execute("select id, created_at from payments limit 1");
    expect(rows).toEqual([]);
    expect((await column(world.connectionId)).webhook?.silence).toBeNull();
    const { openKite } = await import("./world");
    const { pay } = await import("#server/checkout/pay");
    await world.weather("lose", 10);
    await pay(world.rt, await openKite(world.rt), world.offerId, "play-approved");
    expect((await column(world.connectionId)).webhook?.silence).toBeNull();
    world.clock.offset = 25 * 60_000;
    expect((await column(world.connectionId)).webhook?.silence).toMatchObject({
      payments: 1,
      usual: 600_000,
    });
    // Look-ups take over, also for what an answer has settled.
    const lookUps = async () => {
      const { rows } = await world.rt.db.client.execute(
        "select count(*) as n from exchanges where operation = 'find' and payment_id is not null",
      );
      return Number(rows[0]?.n);
    };
    const before = await lookUps();
    await followSilence(world.rt);
    await until("the look-up", async () => (await lookUps()) > before);
    const after = await lookUps();
    await followSilence(world.rt);
    const { rows: due } = await world.rt.db.client.execute(
      "select id from payments where look_up_at is not null",
    );
    expect(due).toEqual([]);
    expect(await lookUps()).toBe(after);
    world.clock.offset = 0;
    await fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });
  });
});

describe("the domain file", () => {
  it("is taken, looked for on the shop, and then by the provider itself", async () => {
    const { createServer } = await import("node:http");
    let answer: { status: number; type: string; text: string; location?: string } = {
      status: 404,
      type: "text/plain",
      text: "",
    };
    const shop = createServer((_, response) => {
      response.writeHead(answer.status, {
        "content-type": answer.type,
        ...(answer.location && { location: answer.location }),
      });
      response.end(answer.text);
    });
    shop.listen(0);
    const { port } = shop.address() as { port: number };
    const { id, desk } = await connected("thumbra");
    const here = { ...(await storefront()), domain: `localhost:${port}` };
    const look = async () => lookAtDomain(world.rt, "ida", await where(id), here, "test");
    const text = await desk.file("sandbox", "thumbra-sandbox");
    const taken = await takeFile(
      world.rt,
      "ida",
      await where(id),
      "test",
      "luvwinkel-de",
      "thumbra-sandbox.txt",
      text,
    );
    expect(taken.map((one) => one.code)).toEqual(["ending-added"]);
    expect((await look()).findings[0]?.code).toBe("not-served");
    answer = { status: 302, type: "text/plain", text: "", location: "/elsewhere" };
    expect((await look()).findings[0]?.code).toBe("redirected");
    answer = { status: 200, type: "text/html", text: "<!doctype html>" };
    expect(await look()).toMatchObject({ findings: [{ code: "served-as-html" }], provider: null });
    answer = { status: 200, type: "text/plain", text };
    expect(await look()).toEqual({ findings: [], provider: { ok: true, says: "The file was found" } });
    expect((await column(id)).file?.provider).toEqual({ ok: true, says: "The file was found" });
    // Another storefront's domain has not been looked at by that, though the file is there for both.
    const dealers = must(await storefrontOf(world.rt, "luvwinkel-dealers"));
    const there = (await columnOf(world.rt, await where(id), dealers, "test")).file;
    expect(there).toMatchObject({ provider: null, lookedAt: null, takenAt: expect.any(Number) as number });
    const live = await desk.file("live", "thumbra-live");
    expect(
      (await takeFile(world.rt, "ida", await where(id), "test", "luvwinkel-de", "thumbra-live", live)).some(
        (one) => one.blocking,
      ),
    ).toBe(true);
    const far = await lookAtDomain(
      world.rt,
      "ida",
      await where(id),
      { ...here, domain: "shop.invalid", https: false },
      "live",
    );
    expect(far.findings.map((one) => one.code)).toEqual(["unreachable", "not-https"]);
    shop.close();
  });
});

describe("connections", () => {
  it("are named, shared by storefronts, and say what stops when they are disconnected", async () => {
    const { id } = await connected("quippa", "test", "MT60167");
    expect(await serveStorefront(world.rt, "ida", await where(id), "luvwinkel-jp", true)).toEqual({
      ok: true,
    });
    expect(await serveStorefront(world.rt, "ida", await where(id), "luvwinkel-de", false)).toEqual({
      ok: true,
    });
    expect(await serveStorefront(world.rt, "ida", await where(id), "luvwinkel-jp", false)).toMatchObject({
      ok: false,
      says: expect.stringMatching(/Disconnect it instead/) as string,
    });
    const jp = must(await storefrontOf(world.rt, "luvwinkel-jp"));
    expect(await addOffer(world.rt, "ida", await where(id), jp, "scan")).toMatchObject({ ok: true });
    expect((await lossOf(world.rt, (await where(id)).connection)).offers).toEqual([
      { label: "Quippa code", storefront: "Luvwinkel JP" },
    ]);
    expect(await disconnect(world.rt, "ida", await where(id))).toEqual({ ok: true });
    const { offersOf } = await import("#server/offers/offers");
    expect(await offersOf(world.rt, "luvwinkel-jp")).toEqual([]);
  });

  it("that would clash are refused at every door, with the way out", async () => {
    const { id } = await connected("ostwick");
    const here = await storefront();
    const clash = await addOffer(world.rt, "ida", await where(id), here, "card");
    expect(clash).toMatchObject({
      ok: false,
      says: expect.stringMatching(/cannot both serve cards in EUR.*switch the other off/) as string,
    });
    expect(await switchOffer(world.rt, "ida", world.offerId, true)).toEqual({ ok: true });
    const added = await addOffer(world.rt, "ida", await where(id), here, "card");
    expect(added.ok).toBe(true);
    expect(await switchOffer(world.rt, "ida", world.offerId, false)).toMatchObject({ ok: false });
    if (!added.ok) return;
    await switchOffer(world.rt, "ida", added.id, true);
    // Two at the same moment: one of them is refused, whichever comes second.
    const both = await Promise.all([
      switchOffer(world.rt, "ida", world.offerId, false),
      switchOffer(world.rt, "leo", added.id, false),
    ]);
    expect(both.map((one) => one.ok).sort()).toEqual([false, true]);
    await switchOffer(world.rt, "ida", added.id, true);
    expect(await switchOffer(world.rt, "ida", world.offerId, false)).toEqual({ ok: true });
    const own = await offerNow(world.rt, world.offerId);
    expect((await saveOffer(world.rt, "ida", here, own, own.working.document, own.working.number)).ok).toBe(
      true,
    );
  });
});

describe("what was said", () => {
  it("is filtered by connection, operation and result, page by page, and holds no secret", async () => {
    const { id, keys } = await connected("quippa");
    const filter = { connection: id, mode: null, operation: null, result: null, from: null, to: null };
    const all = (await listExchanges(world.rt, "luvwinkel-de", filter, null)).rows;
    expect(all.map((one) => one.operation)).toEqual(expect.arrayContaining(["account", "list"]));
    expect(JSON.stringify(all)).not.toContain(must(keys["api-key"]));
    const accounts = await listExchanges(world.rt, "luvwinkel-de", { ...filter, operation: "account" }, null);
    expect(new Set(accounts.rows.map((one) => one.operation))).toEqual(new Set(["account"]));
    // The wrong pastes of before are the only ones that were refused.
    const bad = (await listExchanges(world.rt, "luvwinkel-de", { ...filter, result: "bad" }, null)).rows;
    expect(bad.map((one) => [one.operation, one.response?.status])).toContainEqual(["account", 401]);
    expect(bad.every((one) => one.operation === "account")).toBe(true);
    expect((await listExchanges(world.rt, "luvwinkel-uk", filter, null)).rows).toEqual([]);
    const first = await listExchanges(world.rt, "luvwinkel-de", { ...filter, connection: null }, null);
    const second = await listExchanges(world.rt, "luvwinkel-de", { ...filter, connection: null }, first.next);
    const ids = [...first.rows, ...second.rows].map((one) => one.id);
    expect(new Set(ids).size).toBe(ids.length);
    expect(second.rows.length).toBeGreaterThan(0);
  });
});

describe("a profile from a file", () => {
  const document = async (change: (profile: Record<string, unknown>) => void = () => {}) => {
    const profile = structuredClone(must(await profileOf(world.rt, "quippa"))) as unknown as Record<
      string,
      unknown
    >;
    Object.assign(profile, { id: "sandpiper", name: "Sandpiper" });
    change(profile);
    return JSON.stringify(profile, null, 2);
  };
  const connectIt = async (desk: AtDashboard) => {
    const profile = must(await profileOf(world.rt, "sandpiper"));
    const id = await addConnection(world.rt, "ida", { profile, storefrontId: "luvwinkel-de" });
    await enterKeys(world.rt, "ida", await where(id), "test", await keysAt(desk, "sandbox"));
    return id;
  };

  it("is installed after it was read, connects without a line of code, and is updated under its connections", async () => {
    const looked = await lookAtDocument(world.rt, await document());
    expect(looked).toMatchObject({ ok: true, installed: null });
    expect(await profileOf(world.rt, "sandpiper")).toBeNull();
    await installDocument(world.rt, "ida", await document());
    const id = await connectIt(await atDashboard(world.standins, "quippa"));
    expect((await column(id)).fields["api-key"]?.state).toBe("proven");
    const next = await document((profile) => (profile.version = "1.1.0"));
    expect(await installDocument(world.rt, "ida", next)).toMatchObject({
      ok: true,
      installed: { version: "1.0.0", usedBy: ["Sandpiper"], differs: { new: ["version: 1.1.0"] } },
    });
    expect((await where(id)).profile.version).toBe("1.1.0");
    expect(await removeProfile(world.rt, "ida", "sandpiper")).toMatchObject({
      ok: false,
      says: expect.stringMatching(/used by Sandpiper/) as string,
    });
    const fewer = await document((profile) => (profile.fields = (profile.fields as unknown[]).slice(0, 2)));
    expect((await lookAtDocument(world.rt, fewer)).ok).toBe(false);
  });

  it("is refused when it would call private or odd hosts and the operator does not allow that", async () => {
    world.rt.settings.allowPrivateAddresses = false;
    const looked = await lookAtDocument(world.rt, await document());
    expect(looked).toMatchObject({
      ok: false,
      problems: [{ says: expect.stringMatching(/is not called: Only https/) as string }],
    });
    world.rt.settings.allowPrivateAddresses = true;
    expect(await removeProfile(world.rt, "ida", "karvello")).toMatchObject({
      ok: false,
      says: expect.stringMatching(/comes with Zahlung/) as string,
    });
  });
});
