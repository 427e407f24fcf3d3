import { speaking, spoken } from "../../scripts/english";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { enterKey as enterKeySaid } from "#server/connections/keys";
import { addConnection, currentEndpoint } from "#server/connections/connections";
import {
  pingWebhook as pingWebhookSaid,
  registerWebhook as registerWebhookSaid,
} from "#server/connections/webhook";
import { fallBack } from "#server/cutover/cutover";
import { tracksOf } from "#server/home";
import { saveOffer as saveOfferSaid, switchOffer as switchOfferSaid } from "#server/offers/offers";
import { profileOf } from "#server/profiles/profiles";
import { boardOf as boardOfSaid } from "#server/rehearsal/boards";
import { startRehearsal } from "#server/rehearsal/run";
import { callerOf, issueApiKey } from "#server/storefronts/storefronts";
import { caseIds } from "#core/rehearsal/cases";
import { AtKarvello } from "../../demo/karvello";
import {
  cardDocument,
  cutOverNow,
  luvwinkel,
  must,
  offerCard,
  offerNow,
  until,
  whereIs,
} from "../../demo/play";
import { inTest, openWorld, type SystemWorld, wholeRehearsal } from "./world";

const enterKey = speaking(enterKeySaid);
const pingWebhook = speaking(pingWebhookSaid);
const registerWebhook = speaking(registerWebhookSaid);
const saveOffer = speaking(saveOfferSaid);
const switchOffer = speaking(switchOfferSaid);
const boardOf = speaking(boardOfSaid);

// The home view on the way from nothing to live and back: at each step it says what blocks the next station.

let world: SystemWorld;
let karvello: AtKarvello;
let connectionId = "";
let offerId = "";
beforeAll(async () => {
  world = await openWorld({ connect: false });
  karvello = new AtKarvello(world.standins);
  await karvello.signIn();
  await world.rt.db.client.execute(
    `update storefronts set stages = '["Reserved","Paid: to the loft","Refused","Handed back","Under question"]'`,
  );
});
afterAll(() => world.end());

const tracks = async () => spoken(await tracksOf(world.rt, await luvwinkel(world.rt)));
const track = async () => must((await tracks())[0], "track");
const block = async () => {
  const found = (await track()).track.block;
  return found ? `${found.station}: ${found.says}` : null;
};
const stateOf = async (station: string) =>
  (await track()).track.stations.find((one) => one.station === station)?.state;
const enter = async (mode: "test" | "live", keys: Record<string, string>) => {
  for (const [field, value] of Object.entries(keys))
    await enterKey(world.rt, "ida", await whereIs(world.rt, connectionId), mode, field, value);
};
const hang = async (mode: "test" | "live") => {
  const where = await whereIs(world.rt, connectionId);
  await registerWebhook(world.rt, "ida", where, mode);
  await pingWebhook(world.rt, where, mode);
  await until(
    "the webhook",
    async () => (await currentEndpoint(world.rt, connectionId, mode)).provenAt !== null,
  );
};

describe("the track", () => {
  it("is not laid before a provider is chosen", async () => {
    expect(await tracks()).toEqual([]);
  });

  it("stops at Connect until every key is there, fits and is proven, and a webhook has arrived", async () => {
    const profile = must(await profileOf(world.rt, "karvello"), "profile");
    connectionId = await addConnection(world.rt, "ida", { profile, storefrontId: "luvwinkel-de" });
    expect(await block()).toBe(
      "connect: Account code, Frame key, Server key are missing in the test column.",
    );
    const keys = await karvello.keys("sandbox");
    const { "server-key": serverKey = "", ...others } = keys;
    await enter("test", others);
    expect(await block()).toBe("connect: Server key is missing in the test column.");
    await enter("test", { "server-key": `kvs.s.${"a".repeat(32)}` });
    expect(await block()).toMatch(/^connect: Key refused by Karvello/);
    await enter("test", { "server-key": serverKey });
    expect(await block()).toBe("connect: No signed webhook has arrived yet.");
    expect(await stateOf("connect")).toBe("under-way");
    await hang("test");
    expect(await stateOf("connect")).toBe("done");
  });

  it("stops at Offer until something is offered, on, and complete", async () => {
    expect(await block()).toBe("offer: Nothing is offered yet.");
    offerId = await offerCard(world.rt, connectionId);
    expect(await stateOf("offer")).toBe("done");
    await switchOffer(world.rt, "ida", inTest(offerId), "test", true);
    expect(await block()).toBe("offer: The offer is switched off.");
    await switchOffer(world.rt, "ida", inTest(offerId), "test", false);
    const storefront = await luvwinkel(world.rt);
    const save = async (change: Partial<typeof cardDocument>) => {
      const offer = await offerNow(world.rt, offerId);
      await saveOffer(
        world.rt,
        "ida",
        storefront,
        offer,
        { ...cardDocument, ...change },
        offer.working.number,
      );
    };
    await save({ stages: {} });
    expect(await block()).toMatch(/^offer: No stage for: pending, captured,/);
    await save({});
    expect(await stateOf("offer")).toBe("done");
  });

  it(
    "stops at Rehearse until the required cases are green",
    async () => {
      expect(await block()).toBe("rehearse: 28 of 28 required cases are not green.");
      const rehearse = async (cases: (typeof caseIds)[number][]) => {
        await startRehearsal(world.rt, "ida", await offerNow(world.rt, offerId), cases);
        await until(
          "the rehearsal",
          async () => (await boardOf(world.rt, await offerNow(world.rt, offerId))).running === null,
          wholeRehearsal,
        );
      };
      await rehearse(["approved"]);
      expect(await stateOf("rehearse")).toBe("under-way");
      expect(await block()).toBe("rehearse: 27 of 28 required cases are not green.");
      await rehearse([...caseIds]);
      expect(await stateOf("rehearse")).toBe("done");
    },
    2 * wholeRehearsal,
  );

  it("stops at the gates, one after the other, until the lever may move", async () => {
    expect(await block()).toMatch(/^connect: Live keys proven/);
    await enter("live", await karvello.keys("live"));
    expect(await block()).toMatch(/^connect: Live webhook proven/);
    await hang("live");
    expect(await block()).toMatch(/shop has called/i);
    const key = await issueApiKey(world.rt, "ida", "luvwinkel-de", "live");
    expect(await block()).toMatch(/shop has called/i);
    await callerOf(world.rt, key);
    expect(await block()).toBe("cut-over: Every gate is open.");
  });

  it("is whole when live, and shows a gate that does not hold any more", async () => {
    const moved = await cutOverNow(world.rt, "ida", connectionId);
    expect(moved.ok).toBe(true);
    expect([await stateOf("cut-over"), await stateOf("operate"), await block()]).toEqual([
      "done",
      "under-way",
      null,
    ]);
    await enter("live", { "server-key": `kvs.l.${"a".repeat(32)}` });
    expect(await block()).toMatch(/^connect: A gate no longer holds: Live keys proven\./);
    expect(await stateOf("cut-over")).toBe("attention");
    await enter("live", { "server-key": (await karvello.keys("live"))["server-key"] ?? "" });
    expect(await block()).toBeNull();
  });

  it("says that it fell back, and where the way to live is again", async () => {
    expect(await fallBack(world.rt, "ida", "luvwinkel-de", connectionId)).toBe(true);
    const { live, track: now } = await track();
    expect(live).toBe("fallen-back");
    expect(now.stations.find((one) => one.station === "cut-over")).toMatchObject({
      state: "ahead",
      says: "Fallen back",
    });
    expect(now.block).toMatchObject({ station: "cut-over", action: "Go to the lever" });
  });
});
