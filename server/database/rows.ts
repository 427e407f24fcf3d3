import type * as tables from "./schema";

// What a row of each table holds, by the noun it is called everywhere.
export type Storefront = typeof tables.storefronts.$inferSelect;
export type Connection = typeof tables.connections.$inferSelect;
/** A connection on a storefront it serves, with the lever of the two. */
export type Pair = typeof tables.connectionStorefronts.$inferSelect;
export type KeySet = typeof tables.keySets.$inferSelect;
export type KeyCheck = typeof tables.keyChecks.$inferSelect;
export type Endpoint = typeof tables.endpoints.$inferSelect;
export type DomainFile = typeof tables.domainFiles.$inferSelect;
export type Offer = typeof tables.offers.$inferSelect;
export type Revision = typeof tables.offerRevisions.$inferSelect;
export type LookRevision = typeof tables.lookRevisions.$inferSelect;
export type ZoneRevision = typeof tables.zoneRevisions.$inferSelect;
export type Fact = typeof tables.facts.$inferSelect;
export type Checkout = typeof tables.checkouts.$inferSelect;
export type OrderRow = typeof tables.orders.$inferSelect;
export type FindingRow = typeof tables.findings.$inferSelect;
export type Payout = typeof tables.payouts.$inferSelect;
export type PayoutEntry = typeof tables.payoutEntries.$inferSelect;
export type Payment = typeof tables.payments.$inferSelect;
/** A payment whose money a provider moves. */
export type ProviderPayment = Payment & { connectionId: string; keySetId: string; profileVersionId: string };
export type InstrumentRow = typeof tables.instruments.$inferSelect;
export type ButtonSession = typeof tables.buttonSessions.$inferSelect;
export type Subscription = typeof tables.subscriptions.$inferSelect;
export type Period = typeof tables.subscriptionPeriods.$inferSelect;
export type Operation = typeof tables.paymentOperations.$inferSelect;
export type Webhook = typeof tables.webhooks.$inferSelect;
export type Exchange = typeof tables.exchanges.$inferSelect;
export type News = typeof tables.outbox.$inferSelect;
export type Proof = typeof tables.proofs.$inferSelect;
export type Rehearsal = typeof tables.rehearsals.$inferSelect;
export type Cutover = typeof tables.cutovers.$inferSelect;
export type Job = typeof tables.jobs.$inferSelect;
