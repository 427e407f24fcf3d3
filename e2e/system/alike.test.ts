import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { AlikePart } from "#core/offers/alike";
import type { OfferDocument } from "#core/offers/offer";
import { auditBreak } from "#server/audit/audit";
import { previewAlike, saveAlike } from "#server/offers/alike";
import { follow } from "#server/offers/following";
import { addOffline, copyOffline } from "#server/offers/offline";
import { saveOffer } from "#server/offers/offers";
import { anyOfferIn, mustStand } from "#server/storefronts/now";
import { addStorefront } from "#server/storefronts/storefronts";
import { luvwinkelDe } from "../../demo/scenario";
import { must } from "./at-providers";
import { openWorld, type SystemWorld } from "./world";

// Parts of one offer set the same for others in one act.

const DE = "luvwinkel-de";
const AT = "luvwinkel-at";
let world: SystemWorld;
const ids: Record<"transfer" | "invoice" | "cash", string> = { transfer: "", invoice: "", cash: "" };
const rt = () => world.rt;
const at = async (id: string, storefrontId = DE) => must(anyOfferIn(await mustStand(rt(), storefrontId), id));
const document = async (id: string, storefrontId = DE) => (await at(id, storefrontId)).working.document;
async function edit(id: string, change: Partial<OfferDocument>) {
  const one = await at(id);
  const { storefront } = await mustStand(rt(), DE);
  const { document: was, number } = one.working;
  expect(await saveOffer(rt(), "ida", storefront, one, { ...was, ...change }, number)).toMatchObject({
    ok: true,
  });
}
const wish = (source: string, targets: string[], ...parts: AlikePart[]) => ({ source, targets, parts });
const preview = async (of: ReturnType<typeof wish>) => must(previewAlike(await mustStand(rt(), DE), of));
/** What somebody has seen who looks now. */
const seen = async (...all: string[]) =>
  Object.fromEntries(await Promise.all(all.map(async (id) => [id, (await at(id)).working.number] as const)));

beforeAll(async () => {
  world = await openWorld({ beside: false });
  const added = async (kind: "bank-transfer" | "invoice" | "cash-on-delivery") => {
    const made = await addOffline(rt(), "ida", DE, kind);
    if (!made.ok) throw new Error("not added");
    return made.id;
  };
  ids.transfer = await added("bank-transfer");
  ids.invoice = await added("invoice");
  ids.cash = await added("cash-on-delivery");
  await edit(ids.transfer, { countries: ["DE", "CH"], limits: { EUR: { least: 100, greatest: 90_000 } } });
});
afterAll(() => world.end());

describe("parts of an offer set the same for others", () => {
  it("are shown before anything is saved, with why one cannot take them", async () => {
    const lines = await preview(
      wish(
        ids.transfer,
        [ids.invoice, ids.cash, world.offerId, ids.transfer, "nobody"],
        "countries",
        "limits",
      ),
    );
    expect(lines.map(({ offerId }) => offerId).sort()).toEqual([ids.invoice, ids.cash, world.offerId].sort());
    for (const { changes, problems } of lines) {
      expect(problems).toEqual([]);
      expect(changes.map(({ path }) => path)).toContain("countries");
      expect(changes.map(({ path }) => path)).toContain("limits.EUR.greatest");
    }
    // What only an offer without a provider has changes nothing for one through a provider.
    expect(await preview(wish(ids.transfer, [world.offerId], "due"))).toMatchObject([{ changes: [] }]);
    const unknown = wish("nobody", [ids.cash], "countries");
    expect(previewAlike(await mustStand(rt(), DE), unknown)).toBeNull();
    expect(await saveAlike(rt(), "ida", DE, unknown, {})).toMatchObject({ ok: false });
  });

  it("are saved as a revision of each that they change, in one transaction with an entry for each", async () => {
    await edit(ids.cash, { countries: ["DE", "CH"] });
    const all = [ids.invoice, ids.cash, world.offerId];
    const before = await seen(ids.transfer, ...all);
    const asked = wish(ids.transfer, all, "countries");
    expect(await saveAlike(rt(), "ida", DE, asked, before)).toEqual({ ok: true, saved: 2, left: [] });
    for (const id of all) expect((await document(id)).countries).toEqual(["DE", "CH"]);
    expect(await seen(ids.transfer, ...all)).toEqual({
      ...before,
      ...{ [ids.invoice]: must(before[ids.invoice]) + 1, [world.offerId]: must(before[world.offerId]) + 1 },
    });
    const { rows } = await rt().db.client.execute(
      "select subject from audit where action = 'offer set alike' order by number",
    );
    expect(rows.map(({ subject }) => subject).sort()).toEqual([ids.invoice, world.offerId].sort());
    expect(await auditBreak(rt())).toBeNull();
    // The same press that comes again changes nothing.
    expect(await saveAlike(rt(), "ida", DE, asked, before)).toEqual({ ok: true, saved: 0, left: [] });
  });

  it("are not saved over what somebody else saved meanwhile, at the source or at any of them", async () => {
    const before = await seen(ids.transfer, ids.invoice, ids.cash);
    await edit(ids.invoice, { groups: ["dealers"] });
    const asked = wish(ids.transfer, [ids.invoice, ids.cash], "limits");
    expect(await saveAlike(rt(), "ben", DE, asked, before)).toMatchObject({
      ok: false,
      problems: [{ path: ids.invoice, code: "offers.overtaken" }],
    });
    expect((await document(ids.cash)).limits).not.toHaveProperty("EUR");
    await edit(ids.transfer, { limits: {} });
    const stale = { ...(await seen(ids.invoice, ids.cash)), [ids.transfer]: must(before[ids.transfer]) };
    await edit(ids.transfer, { groups: ["retail"] });
    expect(await saveAlike(rt(), "ben", DE, wish(ids.transfer, [ids.cash], "groups"), stale)).toMatchObject({
      ok: false,
      problems: [{ path: ids.transfer }],
    });
  });

  it("are saved for all of them or none", async () => {
    // A fee of the time when the storefront took fees.
    const charge = JSON.stringify({ kind: "fee", share: 100, sums: {} });
    await rt().db.client.execute({
      sql: "update offer_revisions set document = json_set(document, '$.charge', json(?)) where id = ?",
      args: [charge, (await at(ids.transfer)).working.id],
    });
    await edit(ids.cash, { countries: [] });
    const asked = wish(ids.transfer, [ids.cash, ids.invoice], "charge", "countries");
    const before = await seen(ids.transfer, ids.cash, ids.invoice);
    const refused = await saveAlike(rt(), "ida", DE, asked, before);
    expect(refused).toMatchObject({ ok: false });
    expect(await seen(ids.transfer, ids.cash, ids.invoice)).toEqual(before);
  });

  it("reach the offers of other storefronts that follow them, two on one storefront too", async () => {
    const { id: _, ...rest } = luvwinkelDe("http://shop.example");
    await addStorefront(rt(), "ida", { ...rest, id: AT, name: "AT", domain: "at.example" });
    const followers: string[] = [];
    for (const id of [ids.invoice, ids.cash]) {
      const one = await at(id);
      if (one.way !== "offline") throw new Error("not offline");
      const copied = await copyOffline(rt(), "ida", one, AT);
      if (!copied.ok) throw new Error("not copied");
      followers.push(copied.id);
      expect(await follow(rt(), "ida", { storefrontId: AT, offerId: copied.id }, id)).toEqual({ ok: true });
    }
    await edit(world.offerId, { countries: ["DE", "DK", "PL"] });
    const asked = wish(world.offerId, [ids.invoice, ids.cash], "countries");
    const before = await seen(world.offerId, ids.invoice, ids.cash);
    expect(await saveAlike(rt(), "ida", DE, asked, before)).toEqual({ ok: true, saved: 2, left: [] });
    for (const id of followers) expect((await document(id, AT)).countries).toEqual(["DE", "DK", "PL"]);
  });
});
