import { speaking } from "../../scripts/english";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { addConnection } from "#server/connections/connections";
import {
  disconnect as disconnectSaid,
  lossOf,
  serveStorefront as serveStorefrontSaid,
} from "#server/connections/disconnect";
import { proveKeys } from "#server/connections/proving";
import { lookAtDomain as lookAtDomainSaid, takeFile } from "#server/connections/domain";
import { columnOf as columnOfSaid } from "#server/connections/handshake";
import { enterKeys } from "#server/connections/keys";
import { listExchanges } from "#server/exchanges/list";
import {
  addOffer as addOfferSaid,
  saveOffer as saveOfferSaid,
  switchOffer as switchOfferSaid,
} from "#server/offers/offers";
import {
  installDocument as installDocumentSaid,
  lookAtDocument as lookAtDocumentSaid,
  removeProfile as removeProfileSaid,
} from "#server/profiles/install";
import { profileOf } from "#server/profiles/profiles";
import { storefrontOf } from "#server/storefronts/storefronts";
import { type AtDashboard, atDashboard, keysAt } from "../../demo/dashboards";
import { offerNow } from "../../demo/play";
import { AtProviders, must } from "./at-providers";
import { inTest, type SystemWorld } from "./world";

const disconnect = speaking(disconnectSaid);
const serveStorefront = speaking(serveStorefrontSaid);
const lookAtDomain = speaking(lookAtDomainSaid);
const columnOf = speaking(columnOfSaid);
const addOffer = speaking(addOfferSaid);
const saveOffer = speaking(saveOfferSaid);
const switchOffer = speaking(switchOfferSaid);
const installDocument = speaking(installDocumentSaid);
const lookAtDocument = speaking(lookAtDocumentSaid);
const removeProfile = speaking(removeProfileSaid);

let at: AtProviders;
let world: SystemWorld;
beforeAll(async () => {
  at = await AtProviders.open();
  world = at.world;
});
afterAll(() => world.end());

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
    const { id, desk } = await at.connected("thumbra");
    const here = { ...(await at.storefront()), domain: `localhost:${port}` };
    const look = async () => lookAtDomain(world.rt, "ida", await at.where(id), here, "test");
    const text = await desk.file("sandbox", "thumbra-sandbox");
    const taken = await takeFile(
      world.rt,
      "ida",
      await at.where(id),
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
    expect((await at.column(id)).file?.provider).toEqual({ ok: true, says: "The file was found" });
    // Another storefront's domain has not been looked at by that, though the file is there for both.
    const dealers = must(await storefrontOf(world.rt, "luvwinkel-dealers"));
    const there = (await columnOf(world.rt, await at.where(id), dealers, "test")).file;
    expect(there).toMatchObject({ provider: null, lookedAt: null, takenAt: expect.any(Number) as number });
    const live = await desk.file("live", "thumbra-live");
    expect(
      (
        await takeFile(world.rt, "ida", await at.where(id), "test", "luvwinkel-de", "thumbra-live", live)
      ).some((one) => one.blocking),
    ).toBe(true);
    const far = await lookAtDomain(
      world.rt,
      "ida",
      await at.where(id),
      { ...here, domain: "shop.invalid", https: false },
      "live",
    );
    expect(far.findings.map((one) => one.code)).toEqual(["unreachable", "not-https"]);
    shop.close();
  });
});

describe("connections", () => {
  it("are named, shared by storefronts, and say what stops when they are disconnected", async () => {
    const { id } = await at.connected("quippa", "test", "MT60167");
    expect(await serveStorefront(world.rt, "ida", await at.where(id), "luvwinkel-jp", true)).toEqual({
      ok: true,
    });
    expect(await serveStorefront(world.rt, "ida", await at.where(id), "luvwinkel-de", false)).toEqual({
      ok: true,
    });
    expect(await serveStorefront(world.rt, "ida", await at.where(id), "luvwinkel-jp", false)).toMatchObject({
      ok: false,
      says: expect.stringMatching(/Disconnect it instead/) as string,
    });
    const jp = must(await storefrontOf(world.rt, "luvwinkel-jp"));
    expect(await addOffer(world.rt, "ida", await at.where(id), jp, "scan")).toMatchObject({ ok: true });
    expect((await lossOf(world.rt, await at.where(id), ["luvwinkel-jp"])).offers).toEqual([
      { label: "Quippa code", storefront: "Luvwinkel JP" },
    ]);
    expect(await disconnect(world.rt, "ida", await at.where(id))).toEqual({ ok: true });
    const { offersOf } = await import("#server/offers/offers");
    expect(await offersOf(world.rt, "luvwinkel-jp")).toEqual([]);
  });

  it("that would clash are refused at every door, with the way out", async () => {
    const { id } = await at.connected("ostwick");
    const here = await at.storefront();
    const clash = await addOffer(world.rt, "ida", await at.where(id), here, "card");
    expect(clash).toMatchObject({
      ok: false,
      says: expect.stringMatching(/cannot both serve cards in EUR.*switch the other off/) as string,
    });
    expect(await switchOffer(world.rt, "ida", inTest(world.offerId), "test", true)).toMatchObject({
      ok: true,
    });
    const added = await addOffer(world.rt, "ida", await at.where(id), here, "card");
    expect(added.ok).toBe(true);
    expect(await switchOffer(world.rt, "ida", inTest(world.offerId), "test", false)).toMatchObject({
      ok: false,
    });
    if (!added.ok) return;
    await switchOffer(world.rt, "ida", inTest(added.id), "test", true);
    // Two at the same moment: one of them is refused, whichever comes second.
    const both = await Promise.all([
      switchOffer(world.rt, "ida", inTest(world.offerId), "test", false),
      switchOffer(world.rt, "leo", inTest(added.id), "test", false),
    ]);
    expect(both.map((one) => one.ok).sort()).toEqual([false, true]);
    await switchOffer(world.rt, "ida", inTest(added.id), "test", true);
    expect(await switchOffer(world.rt, "ida", inTest(world.offerId), "test", false)).toMatchObject({
      ok: true,
    });
    const own = await offerNow(world.rt, world.offerId);
    expect((await saveOffer(world.rt, "ida", here, own, own.working.document, own.working.number)).ok).toBe(
      true,
    );
  });
});

describe("what was said", () => {
  it("is filtered by connection, operation and result, page by page, and holds no secret", async () => {
    const { id, keys } = await at.connected("quippa");
    const wrong = { "api-key": `quip.trial.${"a".repeat(30)}` };
    await enterKeys(world.rt, "ida", await at.where(id), "test", wrong);
    await enterKeys(world.rt, "ida", await at.where(id), "test", keys);
    const filter = { connection: id, mode: null, operation: null, result: null, from: null, to: null };
    const all = (await listExchanges(world.rt, "luvwinkel-de", filter, null)).rows;
    expect(all.map((one) => one.operation)).toEqual(expect.arrayContaining(["account", "list"]));
    expect(JSON.stringify(all)).not.toContain(must(keys["api-key"]));
    const accounts = await listExchanges(world.rt, "luvwinkel-de", { ...filter, operation: "account" }, null);
    expect(new Set(accounts.rows.map((one) => one.operation))).toEqual(new Set(["account"]));
    // The wrong paste is the only one that was refused.
    const bad = (await listExchanges(world.rt, "luvwinkel-de", { ...filter, result: "bad" }, null)).rows;
    expect(bad.map((one) => [one.operation, one.response?.status])).toEqual([["account", 401]]);
    while ((await listExchanges(world.rt, "luvwinkel-de", filter, null)).next === null)
      await proveKeys(world.rt, await at.where(id), "test");
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
    await enterKeys(world.rt, "ida", await at.where(id), "test", await keysAt(desk, "sandbox"));
    return id;
  };

  it("is installed after it was read, connects without a line of code, and leaves connections on the version they pin", async () => {
    const looked = await lookAtDocument(world.rt, await document());
    expect(looked).toMatchObject({ ok: true, installed: null });
    expect(await profileOf(world.rt, "sandpiper")).toBeNull();
    await installDocument(world.rt, "ida", await document());
    const id = await connectIt(await atDashboard(world.standins, "quippa"));
    expect((await at.column(id)).fields["api-key"]?.state).toBe("proven");
    const next = await document((profile) => (profile.version = "1.3.0"));
    expect(await installDocument(world.rt, "ida", next)).toMatchObject({
      ok: true,
      installed: { version: "1.2.0", usedBy: ["Sandpiper"], differs: { new: ["version: 1.3.0"] } },
    });
    expect((await at.where(id)).profile.version).toBe("1.2.0");
    expect(await removeProfile(world.rt, "ida", "sandpiper")).toMatchObject({
      ok: false,
      says: expect.stringMatching(/used by Sandpiper/) as string,
    });
  });

  it("is refused when it would call private or odd hosts and the operator does not allow that", async () => {
    world.settings.allowPrivateAddresses = false;
    const looked = await lookAtDocument(world.rt, await document());
    expect(looked).toMatchObject({
      ok: false,
      problems: [{ says: expect.stringMatching(/is not called: Only https/) as string }],
    });
    world.settings.allowPrivateAddresses = true;
    expect(await removeProfile(world.rt, "ida", "karvello")).toMatchObject({
      ok: false,
      says: expect.stringMatching(/comes with Zahlung/) as string,
    });
  });
});
