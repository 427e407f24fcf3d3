import { describe, expect, it } from "vitest";
import shipped from "../../profiles/karvello.json";
import { readEvent } from "./event";
import { paymentReading } from "./payment-reading";
import type { Profile } from "./profile";

const karvello = shipped as unknown as Profile;
const tells = (about: object | null) =>
  readEvent(karvello, JSON.stringify({ tell: "card.changed", at: "2026-11-02T08:00:00Z", about }));
const about = { no: "kc_1", stand: "kept", shown_as: "Norda …0019", ends: "2039-09-30" };

describe("what a provider tells of something kept", () => {
  it("is its id, its name and when it ends, or that it is gone", async () => {
    const kept = { id: "kc_1", name: "Norda …0019", until: Date.UTC(2039, 8, 30) };
    expect(await tells(about)).toEqual({
      ...{ kind: "kept", name: "card.changed" },
      kept: { ...kept, gone: false },
    });
    expect(await tells({ ...about, stand: "gone" })).toMatchObject({ kept: { id: "kc_1", gone: true } });
    expect(await tells({ no: "kc_1" })).toMatchObject({ kept: { id: "kc_1", gone: false } });
  });

  it("is not understood where it names nothing, or no time is one", async () => {
    for (const odd of [null, {}, { ...about, no: null }, { ...about, no: "" }, { ...about, ends: "soon" }])
      expect(await tells(odd), JSON.stringify(odd)).toEqual({ kind: "unknown", name: "card.changed" });
    const { kept: _, ...without } = karvello.webhooks ?? {};
    const silent = { ...karvello, webhooks: without } as Profile;
    const event = JSON.stringify({ tell: "card.changed", at: "2026-11-02T08:00:00Z", about });
    expect(await readEvent(silent, event)).toMatchObject({ kind: "unknown" });
  });

  it("stands in the report of the payment that kept it, and in no other", async () => {
    const slip = {
      ...{ no: "S1", your_ref: "z-1", coin: "EUR", sum: 900, stand: "taken", held: 900, taken: 900 },
      ...{ given_back: 0, turn: 3, card: { network: "Norda", last: "0019" } },
    };
    expect(await paymentReading(karvello, { ...slip, kept_card: about })).toMatchObject({
      kept: { id: "kc_1", name: "Norda …0019" },
    });
    for (const kept_card of [null, undefined])
      expect(await paymentReading(karvello, { ...slip, kept_card })).not.toHaveProperty("kept");
  });
});
