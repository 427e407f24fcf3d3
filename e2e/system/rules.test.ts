import { afterAll, beforeAll, expect, it } from "vitest";
import type { Rules } from "#core/offers/rules";
import { checkoutOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import { viewOf } from "#server/checkouts/view";
import { addOffline } from "#server/offers/offline";
import { offerOf, orderOffers, saveOffer } from "#server/offers/offers";
import { dropZone, keepZone } from "#server/offers/zones";
import { paymentOf } from "#server/payments/record";
import { mustStand } from "#server/storefronts/now";
import { issueApiKey } from "#server/storefronts/storefronts";
import { until } from "../../demo/play";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// Who is shown what: rules of an offer, over the shop API and on the hosted page.

const DE = "luvwinkel-de";
let world: SystemWorld;
let key = "";
let islands = "";
const rt = () => world.rt;
const entry = { name: "Islands", countries: "", regions: "", postcodes: "DE 25930-25999, DE 18565" };

beforeAll(async () => {
  world = await openWorld({ beside: false });
  key = await issueApiKey(rt(), "test", DE, "test");
  const kept = await keepZone(rt(), "ida", null, entry);
  islands = kept.ok ? kept.id : "";
});
afterAll(() => world.end());

async function ruled(rules: Rules | undefined) {
  const one = must(await offerOf(rt(), DE, world.offerId));
  const { rules: _, ...document } = one.working.document;
  const { storefront } = await mustStand(rt(), DE);
  return saveOffer(
    rt(),
    "ida",
    storefront,
    one,
    { ...document, ...(rules && { rules }) },
    one.working.number,
  );
}
async function offered(change: object = {}) {
  const response = await fetch(`${world.origin}/api/v1/offers`, {
    method: "POST",
    headers: { authorization: `Bearer ${key}`, "content-type": "application/json" },
    body: JSON.stringify({
      ...{ reference: "R-1", currency: "EUR", shipping: "0", tax: "0", total: "39.00", country: "DE" },
      lines: [{ name: "Workshop", quantity: 1, unit: "39.00", total: "39.00", kind: "workshop" }],
      ...{ language: "de", group: "retail", returnAddress: "http://localhost:1/orders" },
      ...change,
    }),
  });
  const body = (await response.json()) as {
    shown?: { id: string }[];
    withheld?: { id: string; because: { code: string; values: Record<string, unknown> }[] }[];
  };
  return { status: response.status, ...body };
}
const because = async (change: object = {}) =>
  (await offered(change)).withheld?.find(({ id }) => id === world.offerId)?.because.map(({ code }) => code) ??
  [];

it("a zone keeps an offer from places, and cannot be removed while a rule names it", async () => {
  const no: Rules = { match: "all", rules: [{ on: "zone", zones: [islands], at: "ship", is: false }] };
  expect(await ruled(no)).toMatchObject({ ok: true });
  expect(await because({ shipTo: { country: "DE", postcode: "10115" } })).toEqual([]);
  expect(await because({ shipTo: { country: "DE", postcode: "25980" } })).toEqual(["zone"]);
  const withheld = (await offered({ shipTo: { country: "DE", postcode: "25980" } })).withheld;
  expect(withheld?.find(({ id }) => id === world.offerId)?.because[0]?.values).toEqual({
    rule: { code: "rules.zone", values: { zones: ["Islands"], at: "ship", is: "no" } },
    is: "no",
  });
  expect(await dropZone(rt(), "ida", islands)).toMatchObject({ ok: false });
  expect(await keepZone(rt(), "ida", null, entry)).toMatchObject({ ok: false, problems: [{ path: "name" }] });
  // A change of the zone holds at once.
  expect(await keepZone(rt(), "ida", islands, { ...entry, postcodes: "DE 18565" })).toMatchObject({
    ok: true,
  });
  expect(await because({ shipTo: { country: "DE", postcode: "25980" } })).toEqual([]);
  await ruled(undefined);
  expect(await dropZone(rt(), "ida", "nothing")).toMatchObject({ ok: false });
});

it("goods, delivery and weight are what the shop says of the order", async () => {
  const delivered: Rules = {
    match: "all",
    rules: [
      { on: "goods", kinds: ["workshop"], share: "some", is: false },
      {
        match: "any",
        rules: [
          { on: "delivery", methods: ["parcel"], is: true },
          { on: "weight", least: null, greatest: 500 },
        ],
      },
    ],
  };
  expect(await ruled(delivered)).toMatchObject({ ok: true });
  expect(await because()).toEqual(["goods", "none-of"]);
  const kites = { lines: [{ name: "Kite", quantity: 1, unit: "39.00", total: "39.00", kind: "kite" }] };
  expect(await because({ ...kites, delivery: "parcel" })).toEqual([]);
  expect(await because({ ...kites, delivery: "pick-up", weight: 400 })).toEqual([]);
  expect(await because({ ...kites, delivery: "pick-up", weight: 501 })).toEqual(["none-of"]);
  expect((await offered({ weight: -1 })).status).toBe(422);
  expect((await offered({ shipTo: { postcode: "1" } })).status).toBe(422);
  await ruled(undefined);
});

it("refused tries and the device are known on the hosted page, at the choice and at the press", async () => {
  expect(
    await ruled({
      match: "all",
      rules: [
        { on: "tries", most: 0 },
        { on: "device", is: "phone" },
      ],
    }),
  ).toMatchObject({ ok: true });
  const checkout = await openKite(rt(), { reference: "TRIES" });
  const now = async () => must(await checkoutOf(rt(), checkout.id));
  const shown = async (device: "phone" | "computer") => {
    const { scene } = await viewOf(rt(), await now(), null, device);
    return scene.name === "choose" && scene.offers.some(({ id }) => id === world.offerId);
  };
  expect(await shown("phone")).toBe(true);
  expect(await shown("computer")).toBe(false);
  const press = async (device: "phone" | "computer") =>
    pay(rt(), await now(), world.offerId, "play-short", { device, patient: true });
  expect(await press("computer")).toEqual({ kind: "refused", because: "not-offered" });
  const paid = await press("phone");
  if (paid.kind !== "payment") throw new Error(paid.kind);
  await until("it is declined", async () => (await paymentOf(rt(), paid.payment.id))?.state === "declined");
  expect(await shown("phone")).toBe(false);
  await ruled(undefined);
});

it("what contradicts itself is refused, and so is a zone that is gone", async () => {
  expect(
    await ruled({
      match: "all",
      rules: [
        { on: "device", is: "phone" },
        { on: "device", is: "computer" },
      ],
    }),
  ).toMatchObject({ ok: false, problems: [{ path: "rules" }] });
  expect(
    await ruled({ match: "all", rules: [{ on: "zone", zones: ["gone"], at: "ship", is: true }] }),
  ).toMatchObject({ ok: false, problems: [{ path: "rules.0" }] });
});

it("shoppers see offers in the order that they were put into", async () => {
  const added = await addOffline(rt(), "ida", DE, "bank-transfer");
  if (!added.ok) throw new Error("not added");
  const shown = async () => (await offered()).shown?.map(({ id }) => id);
  expect((await shown())?.at(-1)).toBe(added.id);
  await orderOffers(rt(), "ida", DE, [added.id, "nobody", added.id]);
  expect((await shown())?.[0]).toBe(added.id);
  expect(await shown()).toHaveLength(2);
});
