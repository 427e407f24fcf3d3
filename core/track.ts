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
  connectBlock: string | null;
  offered: boolean;
  offerBlock: string | null;
  casesRequired: number;
  casesGreen: number;
  casesFailed: number;
  live: "never" | "live" | "fallen-back";
  closedGates: readonly { id: string; title: string; says: string; station: Station | "shop" }[];
  /** Whether a cutover would change anything in live. */
  waits: boolean;
  livePayments: number;
}

/** Something to do, where it is done, and the words on its button. The shop's side is no station of the line. */
export interface Step {
  station: Station | "shop";
  says: string;
  action: string;
}

export interface Track {
  stations: { station: Station; state: StationState; says: string }[];
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
    { station: "plan", state: "done", says: "Provider chosen" },
    {
      station: "connect",
      state: connect,
      says: connect === "done" ? "All that crosses is proven" : (p.connectBlock ?? "Keys wait"),
    },
    {
      station: "offer",
      state: offer,
      says: offer === "done" ? "Offered to shoppers" : (p.offerBlock ?? "Nothing offered"),
    },
    {
      station: "rehearse",
      state: rehearse,
      says: p.casesRequired ? `${p.casesGreen} of ${p.casesRequired} cases green` : "No cases yet",
    },
    {
      station: "cut-over",
      state: cutOver,
      says: p.live === "fallen-back" ? "Fallen back" : p.live === "live" ? "Live" : "Not live",
    },
    {
      station: "operate",
      state: operate,
      says: livePaymentWords(p.livePayments),
    },
  ];
  const way = wayOf(p, { connect, offer, rehearse });
  return { stations: track, block: way[0] ?? null, way };
}

function livePaymentWords(count: number): string {
  if (count === 0) return "No live payment yet";
  if (count === 1) return "1 live payment";
  return `${count}${count >= 1000 ? " or more" : ""} live payments`;
}

/** Gates about what the next cutover would take to live. */
const aboutNext: ReadonlySet<string> = new Set(["cases", "wording", "stages", "place"]);

/** Gates that stopped holding for what is live. While an edit waits, what it still lacks is no fault of live. */
const slippedOf = ({ live, waits, closedGates }: Progress) =>
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
      says: p.connectBlock ?? "Keys are missing.",
      action: "Go to the handshake",
    });
  if (state.offer !== "done")
    before.push({
      station: "offer",
      says: p.offerBlock ?? "Nothing is offered to shoppers.",
      action: p.offered ? "Finish the offer" : "Make an offer",
    });
  if (state.rehearse !== "done") {
    const left = p.casesRequired - p.casesGreen;
    before.push({
      station: "rehearse",
      says: p.casesRequired
        ? `${left} of ${p.casesRequired} required cases are not green.`
        : "The required cases have to run.",
      action: "Rehearse",
    });
  }
  const slipped = slippedOf(p).map(({ station, title, says }): Step => ({
    station,
    says: `A gate no longer holds: ${title}. ${says}`,
    action: station === "shop" ? toShop : "Mend it",
  }));
  if (isLive && !p.waits) return [...slipped, ...before];
  // What the steps in test have said already is not said again as a gate.
  const said = (id: string) => aboutNext.has(id) && id !== "place" && before.length > 0;
  const gates = isLive
    ? []
    : p.closedGates
        .filter((gate) => !said(gate.id))
        .map(({ station, title, says }): Step => ({
          station,
          says: `${title}: ${says}`,
          action: station === "shop" ? toShop : "Open the gate",
        }));
  const steps = [...slipped, ...before, ...gates];
  const last = isLive ? "Changes wait for their cutover." : "Every gate is open.";
  const later = isLive ? "Take the changes live." : "Move the lever.";
  return [
    ...steps,
    { station: "cut-over", says: steps.length === 0 ? last : later, action: "Go to the lever" },
  ];
}

const toShop = "Go to the shop’s side";
