import { afterAll, beforeAll, expect, it } from "vitest";
import type { Rules } from "#core/offers/rules";
import { checkoutOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import { viewOf } from "#server/checkouts/view";
import { keepBasket } from "#server/offers/baskets";
import { addOffline, offlineLacks, putLive } from "#server/offers/offline";
import { offerOf, orderOffers, removeOffer, saveOffer, switchOffer } from "#server/offers/offers";
import { removedZones, zoneRevisionOf, zoneRevisionsOf } from "#server/offers/zone-revisions";
import { addZone, changeZone, dropZone, restoreZone, zonesOf } from "#server/offers/zones";
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
  const kept = await addZone(rt(), "ida", entry);
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
  expect(await addZone(rt(), "ida", entry)).toMatchObject({ ok: false, problems: [{ path: "name" }] });
  // A change of the zone holds at once.
  const began = must((await zonesOf(rt())).find((one) => one.id === islands));
  const fewer = { ...entry, postcodes: "DE 18565" };
  expect(await changeZone(rt(), "ida", began, fewer, null)).toEqual({ ok: true, id: islands });
  expect(await because({ shipTo: { country: "DE", postcode: "25980" } })).toEqual([]);
  await ruled(undefined);
  expect(await dropZone(rt(), "ida", "nothing")).toMatchObject({ ok: false });
});

it("a zone that live offers go by is changed once somebody has agreed to what that does", async () => {
  const cash = await addOffline(rt(), "ida", DE, "cash-on-delivery");
  if (!cash.ok) throw new Error("not added");
  const { storefront, inOrder } = await mustStand(rt(), DE);
  const one = must(inOrder.find(({ offer }) => offer.id === cash.id));
  if (one.way !== "offline") throw new Error("not offline");
  const there: Rules = { match: "all", rules: [{ on: "zone", zones: [islands], at: "ship", is: false }] };
  const stages = Object.fromEntries(
    offlineLacks(storefront, one).map(({ path }) => [path.replace("stages.", ""), "Reserved"]),
  );
  const document = {
    ...one.working.document,
    rules: there,
    stages: { ...one.working.document.stages, ...stages },
  };
  expect(await saveOffer(rt(), "ida", storefront, one, document, one.working.number)).toMatchObject({
    ok: true,
  });
  const zone = async () => must((await zonesOf(rt())).find(({ id }) => id === islands));
  const began = await zone();
  const wider = { ...entry, postcodes: "DE 18565, DE 25980" };
  const extent = { name: "Islands", countries: [], regions: [], postcodes: ["DE 18565", "DE 25980"] };
  // As long as no live offer goes by it, nobody is asked.
  expect(await changeZone(rt(), "ida", began, wider, null)).toMatchObject({ ok: true });
  expect(
    await changeZone(rt(), "ida", await zone(), { ...entry, postcodes: "DE 18565" }, null),
  ).toMatchObject({
    ok: true,
  });
  expect(await putLive(rt(), "ida", { storefrontId: DE, offerId: cash.id })).toEqual({
    ok: true,
    id: cash.id,
  });
  const sylt = {
    ...{ name: "Sylt", total: 5_000, goods: 4_500, currency: "EUR", country: "DE", postcode: "25980" },
    ...{
      group: "retail",
      kinds: [],
      delivery: "",
      weight: null,
      returning: false,
      device: "phone",
      tries: 0,
    },
  };
  expect(await keepBasket(rt(), storefront, sylt)).toEqual({ ok: true });
  const asked = await changeZone(rt(), "ida", await zone(), wider, null);
  expect(asked).toMatchObject({
    ok: false,
    extent,
    asks: {
      offers: [{ offerId: cash.id, storefrontId: DE, live: true }],
      baskets: [{ basket: "Sylt", shown: false }],
    },
  });
  expect((await zone()).postcodes).toEqual(["DE 18565"]);
  // What was agreed to is what is kept, and nothing else; a name alone changes nothing for anybody.
  const less = { ...extent, postcodes: [] };
  expect(await changeZone(rt(), "ida", await zone(), wider, less)).toHaveProperty("asks");
  expect(
    await changeZone(rt(), "ida", await zone(), { ...entry, name: "Isles", postcodes: "DE 18565" }, null),
  ).toMatchObject({ ok: true });
  expect(await changeZone(rt(), "ida", began, wider, extent)).toMatchObject({
    ok: false,
    problems: [{ path: "zone", code: "rules.zone-overtaken" }],
  });
  expect(await changeZone(rt(), "ida", await zone(), wider, extent)).toEqual({ ok: true, id: islands });
  expect((await zone()).postcodes).toEqual(["DE 18565", "DE 25980"]);
  const { rows } = await rt().db.client.execute(
    "select detail from audit where action = 'zone changed' order by number desc limit 1",
  );
  expect(JSON.parse(String(rows[0]?.detail))).toEqual({
    ...{ name: "Islands", was: "DE 18565", is: "DE 18565, DE 25980" },
  });
  // What it was before can be restored, and asks the same.
  const earlier = must(await zoneRevisionOf(rt(), islands, 1));
  expect(await restoreZone(rt(), "ida", earlier, null)).toMatchObject({
    asks: { offers: [{ offerId: cash.id, live: true }] },
  });
  const was = { name: "Islands", countries: [], regions: [], postcodes: ["DE 25930-25999", "DE 18565"] };
  expect(earlier).toMatchObject(was);
  expect(await restoreZone(rt(), "ida", earlier, was)).toEqual({ ok: true, id: islands });
  expect(await zone()).toEqual({ id: islands, ...was });
  const { rows: kept } = await zoneRevisionsOf(rt(), islands, null);
  expect(kept[0]).toMatchObject({ row: { ...was, removed: false, person: "ida" } });
  expect(kept[0]?.earlier).toMatchObject({ postcodes: ["DE 18565", "DE 25980"] });
  const where = { storefrontId: DE, offerId: cash.id };
  await switchOffer(rt(), "ida", where, "live", true);
  expect(await removeOffer(rt(), "ida", where)).toMatchObject({ ok: true });
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

it("a zone that was removed is brought back as it was, under the name that is free", async () => {
  const kept = await addZone(rt(), "ida", { ...entry, name: "Alps", postcodes: "", countries: "CH, AT" });
  if (!kept.ok) throw new Error("not added");
  expect(await removedZones(rt())).toEqual([]);
  expect(await dropZone(rt(), "enno", kept.id)).toEqual({ ok: true });
  const [removed, ...others] = await removedZones(rt());
  expect(others).toEqual([]);
  expect(removed).toMatchObject({ zoneId: kept.id, number: 2, name: "Alps", removed: true, person: "enno" });
  const other = await addZone(rt(), "ida", { ...entry, name: "Alps", postcodes: "", countries: "LI" });
  if (!other.ok) throw new Error("not added");
  expect(await restoreZone(rt(), "ida", must(removed), null)).toMatchObject({ problems: [{ path: "name" }] });
  await dropZone(rt(), "ida", other.id);
  expect((await removedZones(rt())).map(({ zoneId }) => zoneId)).toEqual([other.id, kept.id]);
  expect(await restoreZone(rt(), "ida", must(removed), null)).toEqual({ ok: true, id: kept.id });
  expect((await zonesOf(rt())).find(({ id }) => id === kept.id)).toMatchObject({ countries: ["CH", "AT"] });
  expect((await removedZones(rt())).map(({ zoneId }) => zoneId)).toEqual([other.id]);
  await dropZone(rt(), "ida", kept.id);
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
