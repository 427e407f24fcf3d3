import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { OfferDocument } from "#core/offers/offer";
import { follow, followingOf, takeFromLeader } from "#server/offers/following";
import { assign, matrixOf } from "#server/offers/matrix";
import { addOffline, copyOffline } from "#server/offers/offline";
import { copyOffer, removeOffer, saveOffer, switchOffer } from "#server/offers/offers";
import { revisionsOf } from "#server/offers/revisions";
import { type AnyOffer, anyOfferIn, mustStand } from "#server/storefronts/now";
import { addStorefront } from "#server/storefronts/storefronts";
import { luvwinkelDe } from "../../demo/scenario";
import { must } from "./at-providers";
import { openWorld, type SystemWorld } from "./world";

// Kept once, used in many places: offers of four storefronts that follow one, and the matrix of them all.

const DE = "luvwinkel-de";
const others = ["luvwinkel-at", "luvwinkel-ch", "luvwinkel-lu"];
let world: SystemWorld;
let transfer = "";
const copies: Record<string, string> = {};
const { groups } = luvwinkelDe("http://shop.example");
const rt = () => world.rt;

async function at(storefrontId: string, id: string): Promise<AnyOffer> {
  return must(anyOfferIn(await mustStand(rt(), storefrontId), id));
}
async function edit(
  storefrontId: string,
  id: string,
  change: (was: OfferDocument) => Partial<OfferDocument>,
) {
  const one = await at(storefrontId, id);
  const { storefront } = await mustStand(rt(), storefrontId);
  const { document, number } = one.working;
  return saveOffer(rt(), "ida", storefront, one, { ...document, ...change(document) }, number);
}
const standing = async (storefrontId: string) =>
  followingOf(
    rt(),
    await mustStand(rt(), storefrontId),
    await at(storefrontId, copies[storefrontId] ?? transfer),
  );

beforeAll(async () => {
  world = await openWorld({ beside: false });
  for (const id of others)
    await addStorefront(rt(), "ida", {
      ...luvwinkelDe("http://shop.example"),
      ...{ id, name: id, domain: `${id}.example`, languages: ["de", "fr"], currencies: ["EUR", "CHF"] },
    });
  const made = await addOffline(rt(), "ida", DE, "bank-transfer");
  if (!made.ok) throw new Error("not added");
  transfer = made.id;
  for (const id of others) {
    const one = await at(DE, transfer);
    if (one.way !== "offline") throw new Error("not offline");
    const copied = await copyOffline(rt(), "ida", one, id);
    if (!copied.ok) throw new Error("not copied");
    copies[id] = copied.id;
    expect(await follow(rt(), "ida", { storefrontId: id, offerId: copied.id }, transfer)).toEqual({
      ok: true,
    });
  }
});
afterAll(() => world.end());

describe("an offer that others follow", () => {
  it("carries what is saved there to all of them, in test", async () => {
    const saved = await edit(DE, transfer, () => ({
      countries: ["DE", "AT"],
      limits: { EUR: { least: 500, greatest: null } },
    }));
    expect(saved).toMatchObject({ ok: true, left: [] });
    for (const id of others)
      expect((await at(id, must(copies[id]))).working.document).toMatchObject({
        countries: ["DE", "AT"],
        limits: { EUR: { least: 500 } },
      });
    expect((await standing(DE)).followers.map(({ storefrontId }) => storefrontId).sort()).toEqual(others);
  });

  it("leaves alone what one of them has set otherwise, field by field", async () => {
    const [ch = ""] = others.slice(1);
    await edit(ch, must(copies[ch]), (was) => ({
      countries: ["CH"],
      limits: { EUR: { least: 900, greatest: null } },
      wording: { ...was.wording, fr: { label: "Virement", hint: "" } },
    }));
    expect((await standing(ch)).leader?.differs.map(({ path }) => path)).toEqual([
      "countries",
      "limits.EUR.least",
    ]);
    await edit(DE, transfer, (was) => ({
      limits: { EUR: { least: 700, greatest: 90_000 } },
      wording: { ...was.wording, de: { label: "Überweisung", hint: "Zwei Tage" } },
    }));
    expect((await at(ch, must(copies[ch]))).working.document).toMatchObject({
      limits: { EUR: { least: 900, greatest: 90_000 } },
      wording: { de: { hint: "Zwei Tage" }, fr: { label: "Virement" } },
    });
    expect((await at("luvwinkel-at", must(copies["luvwinkel-at"]))).working.document.limits).toEqual({
      EUR: { least: 700, greatest: 90_000 },
    });
  });

  it("is gone back to, at one field and at all", async () => {
    const which = { storefrontId: "luvwinkel-ch", offerId: must(copies["luvwinkel-ch"]) };
    expect(await takeFromLeader(rt(), "ida", which, ["limits.EUR.least"])).toEqual({ ok: true });
    expect((await standing("luvwinkel-ch")).leader?.differs.map(({ path }) => path)).toEqual(["countries"]);
    expect(await takeFromLeader(rt(), "ida", which, "all")).toEqual({ ok: true });
    expect((await standing("luvwinkel-ch")).leader?.differs).toEqual([]);
    // Each is a revision of its own, which can be compared and restored.
    const { rows } = await revisionsOf(rt(), await mustStand(rt(), "luvwinkel-ch"), which.offerId, null);
    expect(rows.length).toBeGreaterThan(4);
  });

  it("says which of them cannot take a change, and saves it all the same", async () => {
    const lu = "luvwinkel-lu";
    await edit(lu, must(copies[lu]), () => ({
      rules: { match: "all", rules: [{ on: "shopper", is: "returning" }] },
    }));
    // Together with what is set there, nobody could ever see it.
    const saved = await edit(DE, transfer, () => ({
      charge: { kind: "discount", share: 0, sums: { EUR: 400 } },
    }));
    expect(saved).toMatchObject({ ok: true, left: [] });
    await edit(lu, must(copies[lu]), () => ({ limits: { EUR: { least: 450, greatest: null } } }));
    const more = await edit(DE, transfer, () => ({
      charge: { kind: "discount", share: 0, sums: { EUR: 600 } },
    }));
    expect(more).toMatchObject({ ok: true, left: [{ code: "offers.follower-left" }] });
    expect((await at(lu, must(copies[lu]))).working.document.charge?.sums).toEqual({ EUR: 400 });
    expect((await at("luvwinkel-at", must(copies["luvwinkel-at"]))).working.document.charge?.sums).toEqual({
      EUR: 600,
    });
  });

  it("is not followed in a circle, in a chain, or by another way of paying", async () => {
    const own = await addOffline(rt(), "ida", "luvwinkel-at", "invoice");
    if (!own.ok) throw new Error("not added");
    const refused = { ok: false, problems: [{ code: "offers.cannot-follow" }] };
    const which = (storefrontId: string, offerId: string) => ({ storefrontId, offerId });
    expect(await follow(rt(), "ida", which(DE, transfer), must(copies["luvwinkel-at"]))).toMatchObject(
      refused,
    );
    expect(await follow(rt(), "ida", which("luvwinkel-at", own.id), transfer)).toMatchObject(refused);
    expect(await follow(rt(), "ida", which(DE, transfer), transfer)).toMatchObject(refused);
    expect((await standing(DE)).leaders).toEqual([]);
  });

  it("holds two saves at the same moment apart", async () => {
    const [one, other] = await Promise.all([
      edit(DE, transfer, () => ({ countries: ["DE"] })),
      edit("luvwinkel-at", must(copies["luvwinkel-at"]), (was) => ({
        wording: { ...was.wording, de: { label: "Banküberweisung", hint: "" } },
      })),
    ]);
    expect([one.ok, other.ok]).toContain(true);
    const { document } = (await at("luvwinkel-at", must(copies["luvwinkel-at"]))).working;
    if (one.ok) expect(document.countries).toEqual(["DE"]);
    if (other.ok) expect(document.wording.de?.label).toBe("Banküberweisung");
  });

  it("leaves them on their own when it is removed", async () => {
    await switchOffer(rt(), "ida", { storefrontId: DE, offerId: transfer }, "test", true);
    expect(await removeOffer(rt(), "ida", { storefrontId: DE, offerId: transfer })).toMatchObject({
      ok: true,
    });
    expect((await standing("luvwinkel-ch")).leader).toBeNull();
    expect((await at("luvwinkel-ch", must(copies["luvwinkel-ch"]))).working.document.countries).toContain(
      "DE",
    );
  });
});

describe("the matrix", () => {
  const cell = async (label: string, storefrontId: string) => {
    const { rows } = await matrixOf(rt());
    return must(rows.find((row) => row.label === label)).places[storefrontId];
  };

  it("offers a way of paying on another storefront to one of its groups, and it follows", async () => {
    const made = await addOffline(rt(), "ida", DE, "cheque");
    if (!made.ok) throw new Error("not added");
    const { label = "" } = (await at(DE, made.id)).working.document.wording.en ?? {};
    const [group = ""] = groups.map(({ id }) => id);
    const done = await assign(rt(), "ida", [
      { key: made.id, storefrontId: "luvwinkel-at", groups: [group, "nobody"] },
      { key: made.id, storefrontId: "nowhere", groups: [group] },
      { key: "nothing", storefrontId: "luvwinkel-at", groups: [group] },
    ]);
    expect(done.map(({ storefront, says }) => [storefront, says])).toEqual([["luvwinkel-at", null]]);
    const place = must(await cell(label, "luvwinkel-at"));
    expect(place).toMatchObject({ groups: [group], may: true });
    expect((await at("luvwinkel-at", must(place.offerId))).offer.followsId).toBe(made.id);
    // To nobody: it is switched off there, and on again with whom it is for.
    await assign(rt(), "ida", [{ key: made.id, storefrontId: "luvwinkel-at", groups: [] }]);
    expect(await cell(label, "luvwinkel-at")).toMatchObject({ groups: [], offerId: place.offerId });
    const all = groups.map(({ id }) => id);
    await assign(rt(), "ida", [{ key: made.id, storefrontId: "luvwinkel-at", groups: all }]);
    expect(await cell(label, "luvwinkel-at")).toMatchObject({ groups: all });
    expect((await at("luvwinkel-at", must(place.offerId))).working.document.groups).toEqual([]);
  });

  it("says where an account does not serve a storefront", async () => {
    const card = must(anyOfferIn(await mustStand(rt(), DE), world.offerId));
    if (card.way !== "provider") throw new Error("no provider");
    const key = `${card.connection.id} ${card.offer.methodId}`;
    const { rows } = await matrixOf(rt());
    expect(must(rows.find((row) => row.key === key)).places["luvwinkel-at"]).toMatchObject({ may: false });
    const [group = ""] = groups.map(({ id }) => id);
    const [done] = await assign(rt(), "ida", [{ key, storefrontId: "luvwinkel-at", groups: [group] }]);
    expect(done?.says).toMatchObject({ code: "offers.connection-does-not-serve" });
    expect(await copyOffer(rt(), "ida", card, "luvwinkel-at")).toMatchObject({ ok: false });
  });
});
