import { afterAll, beforeAll, expect, it } from "vitest";
import { decide } from "#core/offers/decide";
import { currentEndpoint } from "#server/connections/connections";
import { pingWebhook, registerWebhook } from "#server/connections/webhook";
import { cutoversOf } from "#server/cutover/cutover";
import { interlockingFrom, wouldChange } from "#server/cutover/interlocking";
import { standingOf } from "#server/cutover/standing";
import { addOffer, saveOffer } from "#server/offers/offers";
import { mustStand } from "#server/storefronts/now";
import { callerOf, issueApiKey } from "#server/storefronts/storefronts";
import { press } from "../../app/cutover/presses";
import { cardDocument, offerNow, rehearse, until } from "../../demo/play";
import { AtProviders, must } from "./at-providers";
import { candidatesAt } from "./world";

// Levers as the page presses them: of one offer, of a connection, and of all that is ready, in one movement.

const HERE = "luvwinkel-de";

let at: AtProviders;
let wallet = "";
const offers: Record<string, string> = {};
const rt = () => at.world.rt;

beforeAll(async () => {
  at = await AtProviders.open();
  await rt().db.client.execute(
    `update storefronts set stages = '["Reserved","Paid: to the loft","Refused","Handed back","Under question"]'`,
  );
  await callerOf(rt(), await issueApiKey(rt(), "ida", HERE, "live"));
  for (const mode of ["test", "live"] as const) {
    const { id, desk } = await at.connected("pennywhistle", mode);
    wallet = id;
    await desk.press(mode === "test" ? "sandbox" : "live", "way", { way: "later" });
    expect(await registerWebhook(rt(), "ida", await at.where(wallet), mode)).toEqual({ ok: true });
    await pingWebhook(rt(), await at.where(wallet), mode);
    await until("a message", async () => (await currentEndpoint(rt(), wallet, mode)).provenAt !== null);
  }
  offers.card = at.world.offerId;
  for (const method of ["wallet", "later"]) {
    const added = await addOffer(rt(), "ida", await at.where(wallet), await at.storefront(), method);
    const offer = await offerNow(rt(), must(added.ok ? added.id : null));
    const document = {
      ...offer.working.document,
      wording: { de: { label: method, hint: "" }, en: { label: method, hint: "" } },
      stages: cardDocument.stages,
      statement: cardDocument.statement,
    };
    expect(await saveOffer(rt(), "ida", await at.storefront(), offer, document, 1)).toMatchObject({
      ok: true,
    });
    offers[method] = offer.offer.id;
  }
  await Promise.all(Object.values(offers).map((id) => rehearse(rt(), "ida", id)));
});
afterAll(() => at.world.end());

const standing = async (connectionId: string) => standingOf(rt(), await mustStand(rt(), HERE), connectionId);

/** The form that a lever sends: each connection with the revisions that were looked at, and its offer where one moves. */
async function form(...legs: { connection: string; only?: string }[]): Promise<FormData> {
  const sent = new FormData();
  sent.set("press", "cut-over");
  for (const { connection, only } of legs) {
    const locked = interlockingFrom(await standing(connection), { offers: only ? [only] : null });
    expect(locked.gates.filter((gate) => !gate.open)).toEqual([]);
    sent.append("connection", connection);
    sent.set(`revisions ${connection}`, locked.revisionIds.join(","));
    if (only) sent.set(`offers ${connection}`, only);
  }
  return sent;
}
const send = (sent: FormData) => press(rt(), "ida", HERE, sent);
const shownLive = async () => {
  const candidates = await candidatesAt(rt(), HERE, "live");
  const total = { amount: 4390, currency: "EUR" };
  return decide(candidates, {
    total,
    country: "DE",
    language: "de",
    group: "retail",
    asked: { at: 0 },
  }).shown.map((one) => one.id);
};

it("one offer goes live by itself, and the other of its connection stays where it is", async () => {
  expect(await send(await form({ connection: wallet, only: offers.wallet }))).toEqual({
    ok: true,
    says: null,
  });
  expect(await shownLive()).toEqual([offers.wallet]);
  const left = await standing(wallet);
  expect(wouldChange(left, interlockingFrom(left))).toBe(true);
});

it("all that is ready goes live in one movement, and in none when one of it was edited meanwhile", async () => {
  const card = at.world.connectionId;
  const looked = await form({ connection: wallet }, { connection: card });
  const offer = await offerNow(rt(), must(offers.card));
  const edited = { ...offer.working.document, limits: { EUR: { least: null, greatest: 90_000 } } };
  await saveOffer(rt(), "ida", await at.storefront(), offer, edited, offer.working.number);
  const before = await cutoversOf(rt(), HERE);
  expect(await send(looked)).toMatchObject({
    ok: false,
    status: 409,
    says: expect.stringMatching(/were edited/) as string,
  });
  expect(await shownLive(), "nothing of it moved").toEqual([offers.wallet]);
  expect(await cutoversOf(rt(), HERE)).toEqual(before);

  expect(await send(await form({ connection: wallet }, { connection: card }))).toEqual({
    ok: true,
    says: null,
  });
  expect((await shownLive()).sort()).toEqual(Object.values(offers).sort());
  const moved = (await cutoversOf(rt(), HERE)).slice(0, 2);
  expect(moved.map((one) => [one.kind, one.connectionId]).sort()).toEqual(
    [
      ["cut-over", wallet],
      ["cut-over", card],
    ].sort(),
  );
  expect(moved[0]?.at).toBe(moved[1]?.at);
});
