import { type Said, said, type Told } from "./said";
/** The six stations of the line, in order. */
export const stations = ["plan", "connect", "offer", "rehearse", "cut-over", "operate"] as const;
export type Station = (typeof stations)[number];

export type StationState = "done" | "under-way" | "ahead" | "attention";

/** What is known of one connection on one storefront, as far as the track shows it. */
export interface Progress {
  keysProven: boolean;
  webhookProven: boolean;
  /** The provider has seen the shop's domain, or does not want to. */
  domainProven: boolean;
  /** What is wrong or missing at Connect, first things first. */
  connectBlock: Told | null;
  offered: boolean;
  offerBlock: Told | null;
  casesRequired: number;
  casesGreen: number;
  casesFailed: number;
  live: "never" | "live" | "fallen-back";
  closedGates: readonly { id: string; title: Told; says: Told; station: Station | "shop" }[];
  /** Whether a cutover would change anything in live. */
  waits: boolean;
  livePayments: number;
}

/** Something to do, where it is done, and the words on its button. The shop's side is no station of the line. */
export interface Step {
  station: Station | "shop";
  says: Told;
  action: Said;
}

export interface Track {
  stations: { station: Station; state: StationState; says: Told }[];
  /** The signal that stands at stop, and what to do there. Null: nothing is in the way. */
  block: Step | null;
  /** All that is left to do until live runs what is set, in order; the block is the first of it. */
  way: Step[];
}

/** How many of the tracks have passed a station, and whether one of them needs a person there. */
export interface Passed {
  station: Station;
  passed: number;
  attention: boolean;
}

/** How a storefront stands: at each station, how many of its tracks have passed it. */
export const passedOf = (tracks: readonly Pick<Track, "stations">[]): Passed[] =>
  stations.map((station) => {
    const states = tracks.map((one) => one.stations.find((entry) => entry.station === station)?.state);
    return {
      station,
      // A gate that slipped does not take a track back off the main line.
      passed: states.filter((state) => state === "done" || (station === "cut-over" && state === "attention"))
        .length,
      attention: states.includes("attention"),
    };
  });

/** Where a connection stands on the line, and what blocks the next station. */
export function trackOf(p: Progress): Track {
  const connect: StationState =
    p.keysProven && p.webhookProven && p.domainProven ? "done" : p.keysProven ? "under-way" : "ahead";
  const offer: StationState = p.offered && !p.offerBlock ? "done" : p.offered ? "under-way" : "ahead";
  const allGreen = p.casesRequired > 0 && p.casesGreen === p.casesRequired;
  const rehearse: StationState = p.casesFailed
    ? "attention"
    : allGreen
      ? "done"
      : p.casesGreen
        ? "under-way"
        : "ahead";
  const cutOver: StationState = p.live !== "live" ? "ahead" : slippedOf(p).length > 0 ? "attention" : "done";
  const operate: StationState = p.livePayments > 0 ? "done" : p.live === "live" ? "under-way" : "ahead";
  const track: Track["stations"] = [
    { station: "plan", state: "done", says: said("track.provider-chosen") },
    {
      station: "connect",
      state: connect,
      says:
        connect === "done" ? said("track.all-crosses-proven") : (p.connectBlock ?? said("track.keys-wait")),
    },
    {
      station: "offer",
      state: offer,
      says:
        offer === "done" ? said("track.offered-shoppers") : (p.offerBlock ?? said("track.nothing-offered")),
    },
    {
      station: "rehearse",
      state: rehearse,
      says: p.casesRequired
        ? said("track.cases-green", { green: p.casesGreen, required: p.casesRequired })
        : said("track.no-cases-yet"),
    },
    {
      station: "cut-over",
      state: cutOver,
      says:
        p.live === "fallen-back"
          ? said("track.fallen-back")
          : p.live === "live"
            ? said("track.live")
            : said("track.not-live"),
    },
    {
      station: "operate",
      state: operate,
      says: livePayments(p.livePayments),
    },
  ];
  const way = wayOf(p, { connect, offer, rehearse });
  return { stations: track, block: way[0] ?? null, way };
}

/** What is known of an offer without a provider, as far as its track shows it. */
export interface OfflineProgress {
  /** What it lacks before it can go live, first things first. */
  lacks: readonly Told[];
  live: boolean;
  /** Whether live runs another revision than was saved last. */
  waits: boolean;
}

/** Where an offer without a provider stands: there is nothing to connect and nothing to rehearse. */
export function offlineTrackOf({ lacks, live, waits }: OfflineProgress): Track {
  const [lack] = lacks;
  const step = (station: Station, says: Told, action: Said): Step => ({ station, says, action });
  const way = [
    ...(lack ? [step("offer", lack, said("track.finish-offer"))] : []),
    ...(!live || waits
      ? [
          step(
            "offer",
            live ? said("track.take-changes-live") : said("track.put-it-live"),
            said("track.go-offer"),
          ),
        ]
      : []),
  ];
  const at = (station: Station, state: StationState, says: Told) => ({ station, state, says });
  return {
    stations: [
      at("plan", "done", said("track.no-provider")),
      at("connect", "done", said("track.nothing-to-connect")),
      at("offer", lack ? "under-way" : "done", lack ?? said("track.offered-shoppers")),
      at("rehearse", "done", said("track.nothing-to-rehearse")),
      at("cut-over", live ? "done" : "ahead", live ? said("track.live") : said("track.not-live")),
      at("operate", live ? "done" : "ahead", live ? said("track.live") : said("track.not-live")),
    ],
    block: way[0] ?? null,
    way,
  };
}

const livePayments = (count: number): Said =>
  said("track.live-payments", { count, more: count >= 1000 ? "yes" : "no" });

/** Gates about what the next cutover would take to live. */
const aboutNext: ReadonlySet<string> = new Set(["cases", "wording", "stages", "place"]);

/** Gates that stopped holding for what is live. While an edit waits, what it still lacks is no fault of live. */
export const slippedOf = ({ live, waits, closedGates }: Progress) =>
  live === "live" ? closedGates.filter((gate) => !(waits && aboutNext.has(gate.id))) : [];

function wayOf(
  p: Progress,
  state: { connect: StationState; offer: StationState; rehearse: StationState },
): Step[] {
  const isLive = p.live === "live";
  const before: Step[] = [];
  if (state.connect !== "done")
    before.push({
      station: "connect",
      says: p.connectBlock ?? said("track.keys-missing"),
      action: said("track.go-handshake"),
    });
  if (state.offer !== "done")
    before.push({
      station: "offer",
      says: p.offerBlock ?? said("track.nothing-offered-shoppers"),
      action: p.offered ? said("track.finish-offer") : said("track.make-offer"),
    });
  if (state.rehearse !== "done") {
    const left = p.casesRequired - p.casesGreen;
    before.push({
      station: "rehearse",
      says: p.casesRequired
        ? said("track.required-cases-not-green", { left, required: p.casesRequired })
        : said("track.required-cases-run"),
      action: said("track.rehearse"),
    });
  }
  const slipped = slippedOf(p).map(({ station, title, says }): Step => ({
    station,
    says: said("track.gate-no-longer-holds", { title, says }),
    action: station === "shop" ? toShop : said("track.mend"),
  }));
  if (isLive && !p.waits) return [...slipped, ...before];
  // What the steps in test have said already is not said again as a gate.
  const told = (id: string) => aboutNext.has(id) && id !== "place" && before.length > 0;
  const gates = isLive
    ? []
    : p.closedGates
        .filter((gate) => !told(gate.id))
        .map(({ station, title, says }): Step => ({
          station,
          says: said("track.gate", { title, says }),
          action: station === "shop" ? toShop : said("track.open-gate"),
        }));
  const steps = [...slipped, ...before, ...gates];
  const last = isLive ? said("track.changes-wait-their-cutover") : said("track.every-gate-open");
  const later = isLive ? said("track.take-changes-live") : said("track.move-lever");
  return [
    ...steps,
    { station: "cut-over", says: steps.length === 0 ? last : later, action: said("track.go-lever") },
  ];
}

const toShop = said("track.go-shops-side");
