import { describe, expect, it } from "vitest";
import shipped from "../../profiles/karvello.json";
import { tell } from "../../scripts/english";
import { readEvent } from "./event";
import type { ProfileError } from "./expressions";
import type { Profile } from "./profile";
import { readResponse, type WireResponse } from "./response";
import { disputeOf, refundOf } from "./statements";

const karvello = shipped as unknown as Profile;
const json = (body: object): WireResponse => ({ status: 200, body: JSON.stringify(body) });
const complaint = {
  ...{ no: "S1C1", slip: "S1", your_ref: "z-1", coin: "JPY", sum: 900, stand: "open", round: 2 },
  ...{ why: "not recognised", answer_by: "2026-12-09T08:00:00Z" },
};

describe("a list of disputes", () => {
  it("names the payment of each, and leads to its next page", async () => {
    const read = await readResponse(
      karvello,
      "listDisputes",
      json({ complaints: [complaint], more: "S1C1" }),
    );
    expect(read).toEqual({
      ok: true,
      value: {
        disputes: [
          {
            ...{ id: "S1C1", ref: "S1", reference: "z-1", currency: "JPY", stage: 2, amount: 900 },
            ...{ state: "open", reason: "not recognised", due: Date.UTC(2026, 11, 9, 8) },
          },
        ],
        next: "S1C1",
      },
    });
    expect(await readResponse(karvello, "listDisputes", json({ complaints: [], more: null }))).toMatchObject({
      value: { disputes: [] },
    });
  });

  it("is refused by the path of what does not fit", async () => {
    const refused = async (change: object) => {
      const read = readResponse(
        karvello,
        "listDisputes",
        json({ complaints: [{ ...complaint, ...change }] }),
      );
      return read.then(
        () => "taken",
        (error: ProfileError) => tell(error.says),
      );
    };
    expect(await refused({})).toBe("taken");
    expect(await refused({ your_ref: null })).toBe("taken");
    for (const [change, path] of [
      [{ no: null }, "disputes[0].id"],
      [{ slip: null, your_ref: null }, "disputes[0].ref"],
      [{ stand: "" }, "disputes[0].state"],
      [{ sum: "much" }, "disputes[0].amount"],
      [{ coin: "euros" }, "names no currency"],
      [{ answer_by: "soon" }, "disputes[0].due"],
    ] as const)
      expect(await refused(change), JSON.stringify(change)).toContain(path);
  });
});

describe("a message about one thing", () => {
  const profile = {
    ...karvello,
    webhooks: {
      ...karvello.webhooks,
      kinds: { back: "refund", complaint: "dispute" },
      refund: "about.{'id': no, 'ref': slip, 'currency': coin, 'amount': sum, 'state': stand}",
      dispute: "about.{'id': no, 'ref': slip, 'currency': coin, 'amount': sum, 'state': stand}",
    },
  } as unknown as Profile;
  const tells = (tell: string, about: object | null, at = "2026-11-02T08:00:00Z", by = profile) =>
    readEvent(by, JSON.stringify({ tell, at, about }));

  it("is that refund or that dispute", async () => {
    const back = { no: "B1", slip: "S1", coin: "EUR", sum: 250, stand: "done" };
    const at = Date.UTC(2026, 10, 2, 8);
    expect(await tells("back", back)).toEqual({
      ...{ kind: "refund", name: "back", at },
      refund: { id: "B1", ref: "S1", currency: "EUR", amount: 250, state: "done" },
    });
    expect(await tells("complaint", complaint)).toMatchObject({
      ...{ kind: "dispute", at },
      dispute: { id: "S1C1", ref: "S1", currency: "JPY", amount: 900, stage: 1, state: "open" },
    });
  });

  it("is not understood without its id, its payment, a time, or the profile’s word of where it stands", async () => {
    const back = { no: "B1", slip: "S1", coin: "EUR", sum: 250, stand: "done" };
    for (const odd of [null, {}, { ...back, no: null }, { ...back, slip: "" }, { ...back, coin: "x" }])
      expect(await tells("back", odd), JSON.stringify(odd)).toEqual({ kind: "unknown", name: "back" });
    expect((await tells("back", back, "soon")).kind).toBe("unknown");
    const { refund: _, ...without } = profile.webhooks ?? {};
    expect(await tells("back", back, undefined, { ...profile, webhooks: without } as Profile)).toMatchObject({
      kind: "unknown",
    });
  });
});

describe("what it states", () => {
  it("is in our words, and a word that no profile explains is kept as it is", () => {
    const refund = { id: "B1", amount: 250, state: "done" };
    expect(refundOf(karvello, refund)).toEqual({
      object: "refund",
      id: "B1",
      amount: 250,
      state: "succeeded",
    });
    expect(refundOf(karvello, { ...refund, state: "toString" })).toEqual({
      ...{ object: "report", status: null, word: "refund toString" },
    });
    const dispute = { id: "C1", stage: 2, amount: 900, state: "for_holder", due: 5 };
    expect(disputeOf(karvello, dispute)).toEqual({
      ...{ object: "dispute", id: "C1", stage: 2, amount: 900, state: "lost", due: 5 },
    });
    expect(disputeOf(karvello, { ...dispute, state: "asleep" })).toMatchObject({ word: "dispute asleep" });
  });
});
