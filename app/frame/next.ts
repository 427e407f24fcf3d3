import type { ConnectionTrack as SaidConnectionTrack } from "#server/home";
import type { Place } from "./stations";
import type { Spoken } from "../words/speak";

type ConnectionTrack = Spoken<SaidConnectionTrack>;

/** What a page is about, as far as its address says. */
export interface About {
  connection?: string | undefined;
  offer?: string | undefined;
}

/**
 * The track whose next step a page shows: its own where it is about one; otherwise one that needs a person, then the one
 * that is nearest to live, then an edit that waits.
 */
export function nextTrack(
  tracks: readonly ConnectionTrack[],
  { connection, offer }: About,
  here: Place,
): ConnectionTrack | null {
  const own = tracks.find(
    (one) =>
      one.connectionId === connection ||
      (offer !== undefined && one.offers.some((each) => each.id === offer)),
  );
  if (own) return own.track.block ? own : null;
  if (connection !== undefined || offer !== undefined) return null;
  const urgency = ({ live, track }: ConnectionTrack) => {
    if (track.stations.some((one) => one.state === "attention")) return 0;
    return live === "live" ? 2 : 1;
  };
  // Whoever looks after payments is told of what is wrong, not of what is being set up.
  const [first] = tracks
    .filter((one) => one.track.block !== null && (here !== "operate" || urgency(one) === 0))
    .sort((a, b) => urgency(a) - urgency(b) || a.track.way.length - b.track.way.length);
  return first ?? null;
}
