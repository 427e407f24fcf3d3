/** Where an offer lets shoppers keep what they paid with: for this storefront, or for all of the shop that the connection serves. */
export const keepScopes = ["storefront", "shop"] as const;
export type KeepScope = (typeof keepScopes)[number];

export const instrumentStates = ["kept", "forgotten"] as const;
export type InstrumentState = (typeof instrumentStates)[number];

/** What a shopper agreed to when something was kept: the words they read, and when (milliseconds since the epoch). */
export interface Consent {
  words: string;
  language: string;
  at: number;
}

/** That a payment's shopper wants what they pay with kept: for where, and what they agreed to. */
export interface Keeping {
  scope: KeepScope;
  consent: Consent;
}

/** Something kept, as its shopper knows it. Never more than a name: what it is stays with the provider. */
export interface KeptInstrument {
  id: string;
  offerId: string;
  name: string;
  /** When it ends, milliseconds since the epoch; null where nobody says. */
  until: number | null;
  /** Whether it is the one that is shown first. */
  usual: boolean;
}

/** A shopper's id as the shop writes it: printable ASCII without spaces. */
export const isShopperId = (value: string): boolean => /^[\x21-\x7e]{1,64}$/.test(value);

/** Whether something that ends can still be used. */
export const isOver = ({ until }: { until: number | null }, now: number): boolean =>
  until !== null && until + DAY <= now;
const DAY = 86_400_000;
