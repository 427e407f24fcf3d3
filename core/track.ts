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
  closedGates: readonly { title: string; says: string; station: Station }[];
  livePayments: number;
}

export interface Track {
  stations: { station: Station; state: StationState; says: string }[];
  /** The signal that stands at stop, and what to do there. Null: nothing is in the way. */
  block: { station: Station; says: string; action: string } | null;
}

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
  const slipped = p.live === "live" && p.closedGates.length > 0;
  const cutOver: StationState = p.live === "live" ? (slipped ? "attention" : "done") : "ahead";
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
  return { stations: track, block: blockOf(p, { connect, offer, rehearse }) };
}

function livePaymentWords(count: number): string {
  if (count === 0) return "No live payment yet";
  if (count === 1) return "1 live payment";
  return `${count}${count >= 1000 ? " or more" : ""} live payments`;
}

function blockOf(
  p: Progress,
  state: { connect: StationState; offer: StationState; rehearse: StationState },
): Track["block"] {
  if (p.live === "live" && p.closedGates[0]) {
    const { title, says, station } = p.closedGates[0];
    return { station, says: `A gate no longer holds: ${title}. ${says}`, action: "Mend it" };
  }
  if (state.connect !== "done") {
    return { station: "connect", says: p.connectBlock ?? "Keys are missing.", action: "Go to the handshake" };
  }
  if (state.offer !== "done") {
    return {
      station: "offer",
      says: p.offerBlock ?? "Nothing is offered to shoppers.",
      action: p.offered ? "Finish the offer" : "Make an offer",
    };
  }
  if (state.rehearse !== "done") {
    const left = p.casesRequired - p.casesGreen;
    return {
      station: "rehearse",
      says: `${left} of ${p.casesRequired} required cases are not green.`,
      action: "Rehearse",
    };
  }
  if (p.live === "live") return null;
  const gate = p.closedGates[0];
  if (gate) return { station: gate.station, says: `${gate.title}: ${gate.says}`, action: "Open the gate" };
  return { station: "cut-over", says: "Every gate is open.", action: "Go to the lever" };
}
