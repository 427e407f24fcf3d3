import { type ConnectionTrack, tracksFrom } from "#server/home";
import { pulseFrom } from "#server/pulse";
import type { Context } from "../context";
import { localeOf, standAt, type StorefrontView } from "./storefront-context";

/** What the frame shows; without a storefront, nothing is on the line. */
export interface FrameView {
  storefront: StorefrontView | null;
  tracks: ConnectionTrack[];
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
    tracks: tracksFrom(standings),
  };
}
