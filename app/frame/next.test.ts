import { expect, it } from "vitest";
import { type Progress, trackOf } from "#core/track";
import type { ConnectionTrack as SaidTrack } from "#server/home";
import type { Spoken } from "../words/speak";
import { spoken } from "../words/spoken.server";
import { nextTrack } from "./next";

const whole: Progress = {
  keysProven: true,
  webhookProven: true,
  domainProven: true,
  connectBlock: null,
  offered: true,
  offerBlock: null,
  casesRequired: 9,
  casesGreen: 9,
  casesFailed: 0,
  live: "live",
  closedGates: [],
  waits: false,
  livePayments: 3,
};
type ConnectionTrack = Spoken<SaidTrack>;
const track = (id: string, change: Partial<Progress>): ConnectionTrack => ({
  connectionId: id,
  name: id,
  methods: "",
  live: change.live ?? "live",
  offers: [{ id: `offer-${id}`, name: "Card", live: true }],
  track: spoken(trackOf({ ...whole, ...change })),
});
const done = track("done", {});
const edited = track("edited", { waits: true });
const begun = track("begun", {
  live: "never",
  keysProven: false,
  offered: false,
  casesGreen: 0,
  waits: true,
});
const nearly = track("nearly", { live: "never", waits: true });
const slipped = track("slipped", {
  closedGates: [{ id: "live-keys", title: "Live keys proven", says: "Refused.", station: "connect" }],
});
const next = (tracks: ConnectionTrack[], about = {}, here: Parameters<typeof nextTrack>[2] = "rehearse") =>
  nextTrack(tracks, about, here)?.connectionId ?? null;

it("names whose next it is: what needs a person first, then what is nearest to live, then an edit that waits", () => {
  expect(next([done, edited, begun, nearly, slipped])).toBe("slipped");
  expect(next([done, edited, begun, nearly])).toBe("nearly");
  expect(next([done, edited, begun])).toBe("begun");
  expect(next([done, edited])).toBe("edited");
  expect(next([done])).toBeNull();
  expect(next([])).toBeNull();
});

it("belongs to the sheet that one is on", () => {
  const all = [done, begun, slipped];
  expect(next(all, { connection: "begun" }, "connect")).toBe("begun");
  expect(next(all, { offer: "offer-begun" }, "offer")).toBe("begun");
  expect(next(all, { connection: "done" }, "connect")).toBeNull();
  expect(next(all, { connection: "gone" }, "connect")).toBeNull();
});

it("tells whoever looks after payments of what is wrong, not of what is being set up", () => {
  expect(next([begun, nearly, edited], {}, "operate")).toBeNull();
  expect(next([begun, slipped], {}, "operate")).toBe("slipped");
});
