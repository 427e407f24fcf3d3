import type { LeverState } from "./lever";

/** What live ran of one offer: its revision, or null for nothing, and whether it was switched off there. */
export interface OfferSnapshot {
  offerId: string;
  liveId: string | null;
  off: boolean;
}

/** What live ran of one connection on a storefront. */
export interface PairSnapshot {
  connectionId: string;
  live: LeverState;
  /** The profile version that live ran; null before the first cutover. */
  versionId: string | null;
  offers: OfferSnapshot[];
}

/** What a storefront's live side ran before a movement, of every pair that the movement touched. */
export interface Snapshot {
  pairs: PairSnapshot[];
}
