import { speaking } from "../../scripts/english";
import { spoken } from "../../scripts/english";
import { describe, expect, it } from "vitest";
import { passedOf, type Progress, trackOf } from "../track";
import { changesBetween } from "../offers/changes";
import { decideGates as decideGatesSaid, type GateEvidence, mayCutOver } from "./gates";

const decideGates = speaking(decideGatesSaid);

const evidence: GateEvidence = {
  keys: { proven: true, at: 1, missing: [], stale: false },
  keysSharedWithTest: [],
  account: { mayCharge: true, charges: ["EUR"], at: 1 },
  currencies: ["EUR"],
  webhook: { proven: true, at: 2, stale: false },
  offer: { present: true, wordingMissing: [], statement: true },
  cases: { required: 14, green: 14, missing: [], stale: [], failed: [], at: 3 },
  unmappedStates: [],
  domain: null,
  carrier: null,
  place: null,
  shopCalledLive: { at: 4 },
};
const closed = (change: Partial<GateEvidence>) =>
  decideGates({ ...evidence, ...change })
    .filter((gate) => !gate.open)
    .map((gate) => gate.id);

describe("gates", () => {
  it("are all open when everything is proven", () => {
    const gates = decideGates(evidence);
    expect(gates).toHaveLength(9);
    expect(mayCutOver(gates)).toBe(true);
    expect(mayCutOver([])).toBe(false);
  });

  it("are only those that the provider gives reason for", () => {
    const ids = (change: Partial<GateEvidence>) =>
      decideGates({ ...evidence, ...change }).map((one) => one.id);
    expect(ids({ webhook: null })).not.toContain("live-webhook");
    expect(ids({})).not.toContain("live-domain");
    const rider = decideGates({
      ...evidence,
      domain: { proven: false, says: "nothing is there" },
      carrier: { name: "Karvello" },
    });
    expect(rider.find((one) => one.id === "live-domain")?.says).toBe("It says: nothing is there.");
    expect(rider.find((one) => one.id === "carrier")).toMatchObject({
      open: true,
      says: "It rides on Karvello.",
    });
  });

  it("close one by one, each with what is missing", () => {
    const closing: [Partial<GateEvidence>, string[]][] = [
      [
        { keys: { proven: false, missing: ["Server key"], stale: false } },
        ["live-keys", "keys-apart", "account", "currency"],
      ],
      [
        { keys: { proven: true, missing: [], stale: true } },
        ["live-keys", "keys-apart", "account", "currency"],
      ],
      [{ keysSharedWithTest: ["Account code"] }, ["keys-apart"]],
      [{ account: { mayCharge: false, because: "papers", charges: ["EUR"] } }, ["account"]],
      [{ currencies: ["EUR", "GBP"] }, ["currency"]],
      [{ webhook: { proven: false, stale: false } }, ["live-webhook"]],
      [{ domain: { proven: false, says: null } }, ["live-domain"]],
      [{ carrier: { name: null } }, ["carrier"]],
      [{ cases: { ...evidence.cases, green: 13, stale: ["Refund"] } }, ["cases"]],
      [{ cases: { required: 0, green: 0, missing: [], stale: [], failed: [] } }, ["cases"]],
      [{ offer: { present: true, wordingMissing: ["en"], statement: true } }, ["wording"]],
      [{ offer: { present: true, wordingMissing: [], statement: false } }, ["wording"]],
      [{ offer: { present: false, wordingMissing: [], statement: true } }, ["wording", "stages"]],
      [{ unmappedStates: ["refunded"] }, ["stages"]],
      [{ shopCalledLive: null }, ["shop-key"]],
    ];
    for (const [change, ids] of closing) expect(closed(change)).toEqual(ids);
    const says = decideGates({
      ...evidence,
      cases: { ...evidence.cases, failed: ["Void"], missing: ["Refund"] },
    });
    expect(says.find((gate) => gate.id === "cases")?.says).toBe("Failed: Void. Not run: Refund.");
  });
});

describe("changes", () => {
  it("lists exactly what differs, leaf by leaf", () => {
    const before = { capture: "at-once", limits: { EUR: { least: 1 } }, countries: [], statement: "" };
    const after = { capture: "later", limits: {}, countries: ["DE", "AT"], statement: "" };
    expect(changesBetween(before, after)).toEqual([
      { path: "capture", from: "at-once", to: "later" },
      { path: "countries", from: "all", to: "DE, AT" },
      { path: "limits.EUR.least", from: "1", to: null },
    ]);
    expect(changesBetween(after, after)).toEqual([]);
    expect(changesBetween(undefined, { a: { b: "x" } })).toEqual([{ path: "a.b", from: null, to: "x" }]);
  });
});

const progress: Progress = {
  domainProven: true,
  keysProven: true,
  webhookProven: true,
  connectBlock: null,
  offered: true,
  offerBlock: null,
  casesRequired: 14,
  casesGreen: 14,
  casesFailed: 0,
  live: "never",
  closedGates: [],
  waits: true,
  livePayments: 0,
};
const block = (change: Partial<Progress>) => spoken(trackOf({ ...progress, ...change }).block);

describe("the track", () => {
  it("stops at the first station that is not done", () => {
    expect(block({ keysProven: false, offered: false, casesGreen: 0 })?.station).toBe("connect");
    expect(block({ offered: false, casesGreen: 0 })?.station).toBe("offer");
    expect(block({ casesGreen: 3 })?.says).toBe("11 of 14 required cases are not green.");
    expect(block({ closedGates: [{ id: "t", title: "T", says: "S", station: "connect" }] })?.says).toBe(
      "T: S",
    );
    expect(block({})?.says).toBe("Every gate is open.");
    expect(block({ live: "live", waits: false })).toBeNull();
  });

  it("shows a gate that stopped holding after the cutover", () => {
    const slipped = spoken(
      trackOf({
        ...progress,
        live: "live",
        waits: false,
        closedGates: [{ id: "live-keys", title: "Live keys proven", says: "Refused.", station: "connect" }],
      }),
    );
    expect(slipped.stations.find((one) => one.station === "cut-over")?.state).toBe("attention");
    expect(slipped.block?.says).toBe("A gate no longer holds: Live keys proven. Refused.");
  });
});

describe("the way to live", () => {
  const keys = { id: "live-keys", title: "Live keys proven", says: "Missing.", station: "connect" } as const;
  const shop = { id: "shop-key", title: "The shop has called", says: "Not yet.", station: "shop" } as const;
  const cases = { id: "cases", title: "Cases passed", says: "Stale: Refund.", station: "rehearse" } as const;
  const way = (change: Partial<Progress>) =>
    spoken(trackOf({ ...progress, ...change }).way).map((step) => `${step.station}: ${step.says}`);

  it("is known whole from the beginning, the shop’s own key too, and says nothing twice", () => {
    expect(
      way({ keysProven: false, offered: false, casesGreen: 0, closedGates: [keys, cases, shop] }),
    ).toEqual([
      "connect: Keys are missing.",
      "offer: Nothing is offered to shoppers.",
      "rehearse: 14 of 14 required cases are not green.",
      "connect: Live keys proven: Missing.",
      "shop: The shop has called: Not yet.",
      "cut-over: Move the lever.",
    ]);
  });

  it("of an edit to what is live leads to its cutover, and live is no worse for it", () => {
    const edited = trackOf({ ...progress, live: "live", casesGreen: 12, closedGates: [cases] });
    expect(edited.stations.find((one) => one.station === "cut-over")?.state).toBe("done");
    expect(spoken(edited.way).map((step) => step.says)).toEqual([
      "2 of 14 required cases are not green.",
      "Take the changes live.",
    ]);
    expect(block({ live: "live" })?.says).toBe("Changes wait for their cutover.");
  });
});

describe("the line", () => {
  it("says how many tracks have passed each station, never the worst of all", () => {
    const live = trackOf({ ...progress, live: "live", waits: false, livePayments: 3 });
    const slipped = trackOf({
      ...progress,
      live: "live",
      waits: false,
      closedGates: [{ id: "live-keys", title: "Live keys proven", says: "Refused.", station: "connect" }],
    });
    const fresh = trackOf({ ...progress, keysProven: false, offered: false, casesGreen: 0 });
    const passed = passedOf([live, slipped, fresh]);
    expect(passed.map((one) => one.passed)).toEqual([3, 2, 2, 2, 2, 1]);
    expect(passed.map((one) => one.attention)).toEqual([false, false, false, false, true, false]);
    expect(passedOf([]).every((one) => one.passed === 0)).toBe(true);
  });
});

describe("the track of a device wallet", () => {
  it("stands at Connect until the provider has found its file", () => {
    const says = "Thumbra has not found its domain file on the shop’s domain.";
    expect(block({ domainProven: false, connectBlock: says })).toMatchObject({
      station: "connect",
      says,
    });
    expect(block({ offered: false })).toMatchObject({ station: "offer" });
  });
});
