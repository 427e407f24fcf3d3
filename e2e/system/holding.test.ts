import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { OfferDocument } from "#core/offers/offer";
import { pay } from "#server/checkouts/pay";
import { findingsAbout as findingsAboutSaid } from "#server/findings/findings";
import { saveOffer } from "#server/offers/offers";
import { act } from "#server/payments/actions";
import { captureDueOf, captureWhenDue, lookedAt } from "#server/payments/held-back";
import { paymentOf } from "#server/payments/record";
import { anyOfferIn, mustStand } from "#server/storefronts/now";
import { until } from "../../demo/play";
import { say, speaking } from "../../scripts/english";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// Money that is held: back until somebody has looked, or until its days are over.

const DE = "luvwinkel-de";
const DAY = 86_400_000;
const findingsAbout = speaking(findingsAboutSaid);
let world: SystemWorld;
const rt = () => world.rt;

/** Saves a change of the card's offer, which test runs from then on. */
async function edit(change: Partial<OfferDocument>) {
  const stands = await mustStand(rt(), DE);
  const one = must(anyOfferIn(stands, world.offerId));
  const { captureAfterDays: _days, holdBack: _held, ...before } = one.working.document;
  const document = { ...before, capture: "at-once" as const, ...change };
  return saveOffer(rt(), "ida", stands.storefront, one, document, one.working.number);
}
async function buy(reference: string, change: object = {}) {
  const checkout = await openKite(rt(), { reference, ...change });
  const paid = await pay(rt(), checkout, world.offerId, "play-approved", { patient: true });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  const { id } = paid.payment;
  const now = async () => must(await paymentOf(rt(), id));
  await until("the hold", async () => (await now()).held + (await now()).captured > 0);
  const waits = async () =>
    (await findingsAbout(rt(), id)).filter((one) => one.kind === "held-back" && one.state === "open");
  return { id, now, waits };
}

beforeAll(async () => {
  world = await openWorld({ beside: false });
});
afterAll(() => world.end());

describe("an order that is held back", () => {
  it("is held whatever the offer says of capture, is a finding, and is captured by nobody before a look", async () => {
    expect(await edit({ holdBack: { from: { EUR: 4_000 }, countries: ["AT"] } })).toMatchObject({ ok: true });
    const payment = await buy("HELD-BACK-1");
    expect(await payment.now()).toMatchObject({ state: "authorised", held: 4_390, captured: 0 });
    const [finding] = await payment.waits();
    expect(finding?.title).toBe("HELD-BACK-1 waits for somebody to look at it");
    expect(finding?.says).toContain("orders from €40.00 on are held back");
    const pressed = await act(rt(), "ida", await payment.now(), {
      ...{ kind: "capture", amount: 4_390, once: "too-soon" },
    });
    expect(pressed.ok ? "" : say(pressed.says as Parameters<typeof say>[0])).toBe(
      "Somebody has to look at it first.",
    );
    expect(await lookedAt(rt(), "ida", await payment.now(), "go-on")).toMatchObject({ ok: true });
    await until("the capture", async () => (await payment.now()).captured === 4_390);
    expect(await payment.waits()).toEqual([]);
    expect(await lookedAt(rt(), "ida", await payment.now(), "go-on")).toMatchObject({ ok: false });
  });

  it("is let go when it is refused", async () => {
    const payment = await buy("HELD-BACK-2", { country: "AT", lines: [], shipping: 0, tax: 0, total: 100 });
    expect((await payment.waits())[0]?.says).toContain("it concerns Austria");
    expect(await lookedAt(rt(), "ida", await payment.now(), "refuse")).toMatchObject({ ok: true });
    await until("the release", async () => (await payment.now()).state === "voided");
    expect(await payment.waits()).toEqual([]);
  });

  it("is none where it is below, elsewhere, or of another offer's method", async () => {
    const payment = await buy("GOES-ON", { shipping: 0, lines: [], tax: 0, total: 3_999 });
    await until("the capture", async () => (await payment.now()).captured === 3_999);
    expect(await payment.waits()).toEqual([]);
    expect(await edit({ capture: "at-once", captureAfterDays: 3 })).toMatchObject({ ok: false });
  });
});

describe("what is captured by itself", () => {
  it("waits for its days, and is captured once they are over", async () => {
    expect(await edit({ capture: "later", captureAfterDays: 2 })).toMatchObject({ ok: true });
    const payment = await buy("IN-TWO-DAYS");
    const { createdAt } = await payment.now();
    expect(await captureDueOf(rt(), await payment.now())).toBe(createdAt + 2 * DAY);
    expect(await captureWhenDue(rt(), payment.id)).toBeGreaterThan(DAY);
    expect((await payment.now()).captured).toBe(0);
    world.clock.offset += 2 * DAY + 1_000;
    await until("the capture", async () => (await payment.now()).captured === 4_390);
    expect(await captureDueOf(rt(), await payment.now())).toBeNull();
  });

  it("waits for a look as well where it is held back, and goes on by itself after it", async () => {
    expect(
      await edit({
        ...{ capture: "later", captureAfterDays: 1 },
        holdBack: { from: { EUR: 1 }, countries: [] },
      }),
    ).toMatchObject({ ok: true });
    const payment = await buy("BOTH");
    expect(await captureDueOf(rt(), await payment.now())).toBeNull();
    world.clock.offset += 1 * DAY + 1_000;
    expect(await captureWhenDue(rt(), payment.id)).toBeNull();
    expect((await payment.now()).captured).toBe(0);
    expect(await lookedAt(rt(), "ida", await payment.now(), "go-on")).toMatchObject({ ok: true });
    await until("the capture", async () => (await payment.now()).captured === 4_390);
  });
});
