import { speaking } from "../../scripts/english";
import { eq } from "drizzle-orm";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Mode } from "#core/mode";
import type { OfferDocument } from "#core/offers/offer";
import { decide } from "#core/offers/decide";
import { recentAudit } from "#server/audit/audit";
import { pay } from "#server/checkouts/pay";
import { serveStorefront as serveStorefrontSaid } from "#server/connections/disconnect";
import { enterKeys } from "#server/connections/keys";
import { addConnection, currentEndpoint } from "#server/connections/connections";
import {
  pingWebhook as pingWebhookSaid,
  registerWebhook as registerWebhookSaid,
} from "#server/connections/webhook";
import { cutOver as cutOverSaid, cutoversOf, fallBack, planOf } from "#server/cutover/cutover";
import { interlockingFrom as interlockingFromSaid } from "#server/cutover/interlocking";
import {
  cutoverBy as cutoverBySaid,
  restoreAtOnce as restoreAtOnceSaid,
  restoreToWorking as restoreToWorkingSaid,
  stepBack as stepBackSaid,
  viewSnapshot,
} from "#server/cutover/snapshots";
import { standingOf, standingsOf } from "#server/cutover/standing";
import { proofs } from "#server/database/schema";
import {
  addOffer as addOfferSaid,
  copyOffer as copyOfferSaid,
  offerOf,
  removeOffer as removeOfferSaid,
  saveOffer as saveOfferSaid,
  switchOffer as switchOfferSaid,
} from "#server/offers/offers";
import { act as actSaid } from "#server/payments/actions";
import { paymentOf } from "#server/payments/record";
import { profileOf } from "#server/profiles/profiles";
import { mustStand } from "#server/storefronts/now";
import { addStorefront, callerOf, issueApiKey } from "#server/storefronts/storefronts";
import { cardDocument, must, offerNow, rehearse, until, whereIs } from "../../demo/play";
import { luvwinkelDe } from "../../demo/scenario";
import { candidatesAt, openKite, openWorld, partsNow, type SystemWorld } from "./world";

const serveStorefront = speaking(serveStorefrontSaid);
const pingWebhook = speaking(pingWebhookSaid);
const registerWebhook = speaking(registerWebhookSaid);
const cutOver = speaking(cutOverSaid);
const interlockingFrom = speaking(interlockingFromSaid);
const cutoverBy = speaking(cutoverBySaid);
const restoreAtOnce = speaking(restoreAtOnceSaid);
const restoreToWorking = speaking(restoreToWorkingSaid);
const stepBack = speaking(stepBackSaid);
const addOffer = speaking(addOfferSaid);
const copyOffer = speaking(copyOfferSaid);
const removeOffer = speaking(removeOfferSaid);
const saveOffer = speaking(saveOfferSaid);
const switchOffer = speaking(switchOfferSaid);
const act = speaking(actSaid);

// One connection on two storefronts, and two connections in one place: whose shoppers see what, after each movement.

const A = "luvwinkel-de";
const B = "luvwinkel-nord";

let world: SystemWorld;
let offers: Record<string, string>;
beforeAll(async () => {
  world = await openWorld();
  await addStorefront(world.rt, "ida", {
    ...luvwinkelDe("http://localhost:2"),
    id: B,
    name: "Luvwinkel Nord",
  });
  await world.rt.db.client.execute(
    `update storefronts set stages = '["Reserved","Paid: to the loft","Refused","Handed back","Under question"]'`,
  );
  const where = await whereIs(world.rt, world.connectionId);
  expect(await serveStorefront(world.rt, "ida", where, B, true)).toEqual({ ok: true });
  await rehearse(world.rt, "ida", world.offerId);
  await callerOf(world.rt, await issueApiKey(world.rt, "ida", A, "live"));
  offers = { [A]: world.offerId };
});
afterAll(() => world.end());

const at = async (storefrontId: string, connectionId = world.connectionId) =>
  standingOf(world.rt, await mustStand(world.rt, storefrontId), connectionId);
const lockedAt = async (storefrontId: string, connectionId?: string) =>
  interlockingFrom(await at(storefrontId, connectionId));
const move = async (storefrontId: string, connectionId = world.connectionId) =>
  cutOver(world.rt, "ida", storefrontId, [
    { connectionId, revisionIds: (await lockedAt(storefrontId, connectionId)).revisionIds },
  ]);
const closed = async (storefrontId: string, connectionId?: string) =>
  (await lockedAt(storefrontId, connectionId)).gates.filter((gate) => !gate.open).map((gate) => gate.id);

/** What shoppers of a storefront are shown for an order of 43.90 €: the connection and the largest amount of each. */
const seen = async (storefrontId: string, mode: Mode = "live", total = 4390) => {
  const candidates = await candidatesAt(world.rt, storefrontId, mode);
  const { shown } = decide(candidates, {
    total: { amount: total, currency: "EUR" },
    asked: { at: 0 },
    country: "DE",
    language: "de",
    group: "retail",
  });
  return shown.map((one) => one.id);
};

const edit = async (storefrontId: string, change: Partial<OfferDocument>) => {
  const offerId = must(offers[storefrontId], "offer");
  const now = must(await offerOf(world.rt, storefrontId, offerId), "offer");
  const { storefront } = await mustStand(world.rt, storefrontId);
  const document = { ...cardDocument, ...change };
  expect(
    (await saveOffer(world.rt, "ida", storefront, now, document, now.working.number)).ok,
    "the edit is kept",
  ).toBe(true);
};

/** The first offer's results as another offer's own: what was rehearsed for one counts here for all. */
async function proveLikewise(storefrontId: string, offerId: string) {
  const one = must(await offerOf(world.rt, storefrontId, offerId), "offer");
  const parts = await partsNow(world.rt, one);
  const known = await world.rt.db.orm
    .select()
    .from(proofs)
    .where(eq(proofs.offerId, must(offers[A], "offer")));
  await world.rt.db.write(
    known.map((proof) =>
      world.rt.db.orm.insert(proofs).values({
        ...proof,
        id: world.rt.ids.next("prf"),
        offerId,
        connectionId: one.connection.id,
        paymentId: null,
        parts,
      }),
    ),
  );
}

describe("two storefronts that share a connection", () => {
  it("go live one by one, each through its own gates", async () => {
    expect(await move(A)).toMatchObject({ ok: true });
    expect(await seen(A)).toEqual([offers[A]]);
    const copied = await copyOffer(world.rt, "ida", await offerNow(world.rt, world.offerId), B);
    offers[B] = must(copied.ok ? copied.id : null, "the copy");
    expect((await offerOf(world.rt, B, offers[B]))?.working.document).toMatchObject({
      statement: cardDocument.statement,
      limits: cardDocument.limits,
    });
    expect(await seen(B), "live with one is not live with the other").toEqual([]);
    expect(await seen(B, "test")).toEqual([offers[B]]);
    expect(await closed(B)).toEqual(["cases", "shop-key"]);
    expect(await move(B)).toMatchObject({ ok: false, because: "gates" });
    await proveLikewise(B, offers[B]);
    await callerOf(world.rt, await issueApiKey(world.rt, "ida", B, "live"));
    expect(await closed(B)).toEqual([]);
    expect(await move(B)).toMatchObject({ ok: true });
    expect(await seen(B)).toEqual([offers[B]]);
  });

  it("never change by the other's movements: not by its way home, nor by its next cutover", async () => {
    await edit(B, { limits: { EUR: { least: null, greatest: 1_000 } } });
    expect(await fallBack(world.rt, "ida", A, world.connectionId)).toBe(true);
    expect([await seen(A), await seen(B)]).toEqual([[], [offers[B]]]);
    expect(await move(A)).toMatchObject({ ok: true });
    expect([await seen(A), await seen(B)], "B's edit waits for B's lever").toEqual([
      [offers[A]],
      [offers[B]],
    ]);

    expect(await fallBack(world.rt, "ida", B, world.connectionId)).toBe(true);
    await edit(A, { limits: { EUR: { least: null, greatest: 50_000 } } });
    expect(await move(A)).toMatchObject({ ok: true });
    expect([await seen(A), await seen(B)], "B stays home").toEqual([[offers[A]], []]);
    expect((await cutoversOf(world.rt, B)).map((one) => one.kind)).toEqual(["fall-back", "cut-over"]);
  });
});

describe("the way home", () => {
  const last = async () => must((await cutoversOf(world.rt, A))[0], "a movement");

  it("goes back to the revisions before the last cutover", async () => {
    await edit(A, { limits: { EUR: { least: null, greatest: 4_000 } } });
    expect(await move(A)).toMatchObject({ ok: true });
    expect(await seen(A)).toEqual([]);
    expect(await stepBack(world.rt, "ida", A, world.connectionId)).toEqual({
      ok: true,
      says: "Live runs what it ran before.",
    });
    expect(await seen(A)).toEqual([offers[A]]);
    expect(await seen(A, "live", 50_001)).toEqual([]);
    expect(await last()).toMatchObject({ kind: "step-back", person: "ida" });
  });

  it("shows what ran before a movement against what runs now", async () => {
    const movements = await cutoversOf(world.rt, A);
    const cut = must(
      movements.find((one) => one.kind === "cut-over"),
      "the cutover",
    );
    const now = await mustStand(world.rt, A);
    const view = await viewSnapshot(world.rt, now, cut);
    expect(view).toMatchObject({ same: true, lines: [{ offer: "Card", gone: false, changes: [] }] });
    const first = must(movements.at(-1), "the first movement");
    expect((await viewSnapshot(world.rt, now, first)).same).toBe(false);
  });

  it("is restored as a working change, which goes the usual way", async () => {
    const cut = must(
      (await cutoversOf(world.rt, A)).find((one) => one.kind === "cut-over"),
      "the cutover",
    );
    expect((await offerNow(world.rt, world.offerId)).working.document.limits.EUR?.greatest).toBe(4_000);
    expect(await restoreToWorking(world.rt, "ida", A, cut)).toMatchObject({ ok: true });
    expect((await offerNow(world.rt, world.offerId)).working.document.limits.EUR?.greatest).toBe(50_000);
    expect(await restoreToWorking(world.rt, "ida", A, cut)).toMatchObject({
      ok: false,
      says: "The working revisions are just that already.",
    });
  });

  it("is restored at once with a reason, which stands in the audit trail", async () => {
    await fallBack(world.rt, "ida", A, world.connectionId);
    const home = await last();
    expect(await restoreAtOnce(world.rt, "ida", A, home, "The provider mended it")).toMatchObject({
      ok: true,
    });
    expect(await seen(A)).toEqual([offers[A]]);
    const [entry] = await recentAudit(world.rt, 1);
    expect(entry).toMatchObject({
      action: "snapshot restored at once",
      person: "ida",
      detail: expect.objectContaining({ reason: "The provider mended it", storefront: A }) as object,
    });
    expect(await cutoverBy(world.rt, B, home.id), "another storefront's movements are its own").toBeNull();
  });
});

describe("a second connection in the same place", () => {
  let second = "";
  let offerId = "";

  it("is connected to the same account with a warning, and offered in test while the first is live", async () => {
    const profile = must(await profileOf(world.rt, "karvello"), "profile");
    second = await addConnection(world.rt, "ida", { profile, storefrontId: A, name: "Karvello anew" });
    for (const mode of ["test", "live"] as const) {
      await enterKeys(world.rt, "ida", await whereIs(world.rt, second), mode, world.keys[mode]);
      await registerWebhook(world.rt, "ida", await whereIs(world.rt, second), mode);
      await pingWebhook(world.rt, await whereIs(world.rt, second), mode);
      await until(
        "the webhook",
        async () => (await currentEndpoint(world.rt, second, mode)).provenAt !== null,
      );
    }
    const { storefront } = await mustStand(world.rt, A);
    const where = await whereIs(world.rt, second);
    expect(await addOffer(world.rt, "ida", where, storefront, "card")).toMatchObject({
      ok: false,
      rivals: ["Card of Karvello"],
    });
    const added = await addOffer(world.rt, "ida", where, storefront, "card", { inPlace: true });
    offerId = must(added.ok ? added.id : null, "the offer");
    expect([await seen(A, "test"), await seen(A)]).toEqual([[offerId], [offers[A]]]);
  });

  it("bars no gate of the first, whose lever moves as before while it is switched off in test", async () => {
    const gates = (await lockedAt(A)).gates.filter((gate) => !gate.open).map((gate) => gate.id);
    expect(gates, "nothing of it moves").toEqual(["cases", "wording", "stages"]);
  });

  it("says that it takes the first's place, and both movements are one", async () => {
    const one = must(await offerOf(world.rt, A, offerId), "offer");
    const { storefront } = await mustStand(world.rt, A);
    await saveOffer(world.rt, "ida", storefront, one, cardDocument, one.working.number);
    await proveLikewise(A, offerId);
    const locked = await lockedAt(A, second);
    expect(locked.gates.find((gate) => gate.id === "place")).toMatchObject({
      open: true,
      says: expect.stringContaining("“Card” of Karvello") as string,
    });
    expect(await closed(A, second)).toEqual([]);
    expect(await move(A, second)).toMatchObject({ ok: true });
    expect(await seen(A)).toEqual([offerId]);
    const [moved, gone] = (await cutoversOf(world.rt, A))
      .slice(0, 2)
      .sort((a, b) => (a.kind < b.kind ? -1 : 1));
    expect([moved?.kind, gone?.kind, gone?.reason]).toEqual(["cut-over", "replaced", moved?.id]);
    expect((await at(A)).pair.live).toBe("fallen-back");
  });

  it("gives the place back when it steps back", async () => {
    expect(await stepBack(world.rt, "ida", A, second)).toMatchObject({ ok: true });
    expect(await seen(A)).toEqual([offers[A]]);
    expect((await at(A, second)).pair.live).toBe("fallen-back");
    expect((await at(A)).pair.live).toBe("live");
  });

  it("does not go live beside the first in one movement, and says so", async () => {
    await switchOffer(world.rt, "ida", { storefrontId: A, offerId }, "test", true);
    await switchOffer(world.rt, "ida", { storefrontId: A, offerId: must(offers[A], "offer") }, "test", false);
    const standings = await standingsOf(world.rt, await mustStand(world.rt, A));
    // What is switched off in test does not move: alone it has nothing to take along.
    const plan = planOf(standings, [{ connectionId: second }, { connectionId: world.connectionId }]);
    expect(plan.map(({ locked }) => locked.offers.length)).toEqual([0, 1]);
    expect(await switchOffer(world.rt, "ida", { storefrontId: A, offerId }, "test", false)).toMatchObject({
      ok: false,
      rivals: ["Card of Karvello"],
    });
  });

  it("is removed, while a payment of it stays refundable", async () => {
    await switchOffer(world.rt, "ida", { storefrontId: A, offerId }, "test", false, { inPlace: true });
    const paid = await pay(world.rt, await openKite(world.rt), offerId, "play-approved");
    if (paid.kind !== "payment") throw new Error(paid.kind);
    await until("captured", async () => (await paymentOf(world.rt, paid.payment.id))?.state === "captured");
    expect(await removeOffer(world.rt, "ida", { storefrontId: A, offerId })).toMatchObject({ ok: true });
    expect([await seen(A, "test"), await offerOf(world.rt, A, offerId)]).toEqual([[], null]);
    expect(
      await act(world.rt, "ida", must(await paymentOf(world.rt, paid.payment.id), "payment"), {
        kind: "refund",
        amount: 4390,
        once: "removed",
      }),
    ).toMatchObject({ ok: true });
    await until("refunded", async () => (await paymentOf(world.rt, paid.payment.id))?.refunded === 4390);
    expect(
      await removeOffer(world.rt, "ida", { storefrontId: A, offerId: must(offers[A], "offer") }),
    ).toMatchObject({ ok: false, says: expect.stringMatching(/Switch it off in live first/) as string });
  });
});
