import { said, type Told } from "#core/said";
import { offlineTrackOf, type Progress, trackOf, type Track } from "#core/track";
import { interlockingFrom, wouldChange } from "./cutover/interlocking";
import { domainProven, keysProven, type Standing, standingsOf, webhookProven } from "./cutover/standing";
import { nameOf } from "./offers/names";
import { offlineLacks } from "./offers/offline";
import type { CaseCount } from "./rehearsal/board";
import type { Runtime } from "./runtime";
import { mustStand, runsInLive, type StorefrontNow } from "./storefronts/now";

export interface ConnectionTrack {
  connectionId: string;
  name: string;
  methods: string;
  live: Progress["live"];
  track: Track;
  offers: { id: string; name: string; live: boolean }[];
}

/** The track of every connection on a storefront. */
export const tracksOf = async (rt: Runtime, { id }: { id: string }): Promise<ConnectionTrack[]> =>
  tracksFrom(await standingsOf(rt, await mustStand(rt, id)));

/** An offer that no provider moves the money of, on the line. */
export interface OfflineTrack {
  offerId: string;
  name: string;
  live: boolean;
  track: Track;
}

/** The track of every offer of a storefront that needs no provider. */
export const offlineTracksOf = ({ storefront, inOrder }: StorefrontNow): OfflineTrack[] =>
  inOrder.flatMap((one) => {
    if (one.way !== "offline") return [];
    const live = runsInLive(one) && !one.offer.offInLive;
    const lacks = offlineLacks(storefront, one).map(({ says }) => says);
    const track = offlineTrackOf({ lacks, live, waits: one.live?.id !== one.working.id });
    return [{ offerId: one.offer.id, name: nameOf(one), live, track }];
  });

/** The same from where the connections stand. */
export function tracksFrom(standings: readonly Standing[]): ConnectionTrack[] {
  const known = made.get(standings);
  if (known) return known;
  const tracks = standings.map(trackFrom);
  made.set(standings, tracks);
  return tracks;
}

const made = new WeakMap<readonly Standing[], ConnectionTrack[]>();

function trackFrom(standing: Standing): ConnectionTrack {
  const { connection, profile, offers, pair } = standing;
  return {
    connectionId: connection.id,
    name: connection.name,
    methods: profile.methods.map((method) => method.name).join(", "),
    live: pair.live,
    offers: offers.map(({ offer }) => ({
      id: offer.offer.id,
      name: nameOf(offer),
      live: pair.live === "live" && offer.live !== null && !offer.offer.offInLive,
    })),
    track: trackOf(progressOf(standing)),
  };
}

/** How far a connection has come on the line. */
export function progressOf(standing: Standing): Progress {
  const { test, offers, pair } = standing;
  const locked = interlockingFrom(standing);
  const { gates } = locked;
  const resting = pair.live === "live" && offers.every((one) => one.offer.offer.offInTest);
  const offerGate = gates.find((gate) => ["wording", "stages"].includes(gate.id) && !gate.open);
  const off = offers.length > 0 && offers.every((one) => one.offer.offer.offInTest);
  const counted = offers.filter((one) => !one.offer.offer.offInTest || off);
  const sum = (pick: (one: CaseCount) => number) =>
    counted.reduce((total, one) => total + pick(one.cases), 0);
  return {
    keysProven: keysProven(standing, test),
    webhookProven: webhookProven(standing, test),
    domainProven: domainProven(standing, test),
    connectBlock: connectBlockOf(standing),
    offered: offers.length > 0,
    offerBlock: resting ? null : off ? said("home.offer-switched-off") : (offerGate?.says ?? null),
    casesRequired: sum((one) => one.required),
    casesGreen: sum((one) => one.green),
    casesFailed: sum((one) => one.failed.length),
    live: pair.live,
    waits: !resting && wouldChange(standing, locked),
    // What is switched off in test bars nothing: live goes on with what was cut over.
    closedGates: gates.filter((gate) => !gate.open && !(resting && aboutOffers.has(gate.id))),
    livePayments: standing.livePayments,
  };
}

const aboutOffers: ReadonlySet<string> = new Set(["cases", "wording", "stages"]);

/** What stands in the way on the handshake sheet's test side, first things first; null when nothing does. */
function connectBlockOf(standing: Standing): Told | null {
  const { keys, check } = standing.test;
  const missing = standing.profile.fields.filter((field) => !keys?.values[field.id]);
  if (missing.length > 0) {
    return said("home.missing-test-column", {
      fields: missing.map((field) => field.label),
      count: missing.length,
    });
  }
  const wrong = Object.values(check?.wrong ?? {})[0]?.says;
  if (wrong) return wrong;
  if (check?.unanswered) return check.unanswered;
  if (!keysProven(standing, standing.test)) return said("home.keys-not-proven");
  if (!webhookProven(standing, standing.test)) return said("home.no-signed-webhook-arrived");
  return domainProven(standing, standing.test)
    ? null
    : said("home.not-found-shops-domain", {
        provider: standing.profile.name,
        file: standing.profile.file?.name ?? "file",
      });
}
