import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { OfferDocument } from "#core/offers/offer";
import { cartOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import { saveOffer } from "#server/offers/offers";
import { anyOfferIn, mustStand } from "#server/storefronts/now";
import { must } from "./at-providers";
import { kiteOrder, openKite, openWorld, type SystemWorld } from "./world";

// What leaves the house when a shopper pays: the least that works, and what a shop wants to be told beyond it.

const DE = "luvwinkel-de";
let world: SystemWorld;
const rt = () => world.rt;

async function edit(change: Partial<OfferDocument>) {
  const stands = await mustStand(rt(), DE);
  const one = must(anyOfferIn(stands, world.offerId));
  return saveOffer(
    rt(),
    "ida",
    stands.storefront,
    one,
    { ...one.working.document, ...change },
    one.working.number,
  );
}

/** What was posted to the provider when an order was paid. */
async function posted(reference: string): Promise<Record<string, unknown>> {
  const bodies: string[] = [];
  world.wire.http = async (input, init) => {
    const body = typeof init?.body === "string" ? init.body : "";
    if (init?.method === "POST" && body.includes("your_ref")) bodies.push(body);
    return fetch(input, init);
  };
  const checkout = await openKite(rt(), { reference, email: "shopper@example.org" });
  const paid = await pay(rt(), checkout, world.offerId, "play-approved", { patient: true });
  world.wire.http = null;
  expect(paid.kind).toBe("payment");
  return JSON.parse(must(bodies[0])) as Record<string, unknown>;
}

beforeAll(async () => {
  world = await openWorld({ beside: false });
});
afterAll(() => world.end());

describe("what the provider is told", () => {
  it("is neither lines nor an address where nobody says so", async () => {
    const body = await posted("TOLD-LEAST");
    expect(Object.keys(body).sort()).toEqual(
      ["ask", "coin", "go_back_to", "statement", "sum", "take", "token", "your_ref"].sort(),
    );
  });

  it("is what the shop says of itself and wants to be told", async () => {
    expect(
      await edit({ telling: { lines: true, email: true, notes: { season: "autumn", loft: "2" } } }),
    ).toMatchObject({ ok: true });
    const body = await posted("TOLD-MORE");
    expect(body).toMatchObject({ mail: "shopper@example.org", notes: { season: "autumn", loft: "2" } });
    expect(body.items).toMatchObject([{ count: 1 }]);
  });

  it("names what choosing the way costs among the lines, so that they make the total", async () => {
    const charge = { kind: "discount" as const, share: 0, sums: { EUR: 390 } };
    expect(await edit({ charge })).toMatchObject({ ok: true });
    const body = await posted("TOLD-CHARGE");
    expect(body.sum).toBe(4_000);
    expect((body.items as { sum: number }[]).at(-1)).toMatchObject({ sum: -390 });
  });

  it("is nothing that rules need: they are asked where an order goes, not whose it is", () => {
    const place = { country: "DE", region: "DE-NI", postcode: "26721" };
    const order = kiteOrder({ shipTo: { ...place, name: "Ida Möwe", lines: ["Deichweg 4"], city: "Emden" } });
    expect(cartOf(order, { at: 0 }).asked).toMatchObject({ shipTo: place, billTo: place });
    expect(JSON.stringify(cartOf(order, { at: 0 }))).not.toMatch(/Möwe|Deichweg|Emden/);
  });

  it("is refused at its field where it is malformed", async () => {
    expect(await edit({ telling: { notes: { "no name": "x" } } })).toMatchObject({
      ok: false,
      problems: [{ path: "telling.notes" }],
    });
    expect(await edit({ telling: { lines: "yes" } as never })).toMatchObject({ ok: false });
  });
});
