import { type ConnectionTrack, type OfflineTrack, offlineTracksOf, tracksFrom } from "#server/home";
import { pulseFrom } from "#server/pulse";
import { spoken } from "../words/spoken.server";
import type { Spoken } from "../words/speak";
import type { Context } from "../context";
import { localeOf, standAt, type StorefrontView } from "./storefront-context";

/** What the frame shows; without a storefront, nothing is on the line. */
export interface FrameView {
  storefront: StorefrontView | null;
  tracks: Spoken<ConnectionTrack>[];
  /** What is offered without a provider. */
  offline: Spoken<OfflineTrack>[];
  pulse: string;
}

/** What the frame shows of a storefront. */
export async function frameOf(
  context: Context,
  id: string,
): Promise<FrameView & { storefront: StorefrontView }> {
  const { now, all, ...stands } = await standAt(context, id);
  const { storefront } = now;
  const standings = await stands.standings();
  return {
    pulse: pulseFrom(all, standings),
    storefront: { id: storefront.id, name: storefront.name, locale: localeOf(storefront) },
    tracks: spokenTracks(tracksFrom(standings)),
    offline: spoken(offlineTracksOf(now)),
  };
}

const made = new WeakMap<readonly ConnectionTrack[], Spoken<ConnectionTrack>[]>();

/** Tracks in words, worked out once for as long as they stand as they do. */
function spokenTracks(tracks: readonly ConnectionTrack[]): Spoken<ConnectionTrack>[] {
  const known = made.get(tracks) ?? spoken([...tracks]);
  made.set(tracks, known);
  return known;
}
