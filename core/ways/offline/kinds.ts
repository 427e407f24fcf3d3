/** How money comes without a provider. */
export const offlineKinds = ["bank-transfer", "invoice", "cash-on-delivery", "cheque", "own"] as const;
export type OfflineKind = (typeof offlineKinds)[number];
export const isOfflineKind = (value: unknown): value is OfflineKind =>
  offlineKinds.some((kind) => kind === value);
