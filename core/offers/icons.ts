import type { MethodKind } from "../profiles/profile";
import type { OfflineKind } from "../ways/offline/kinds";

/** Signs for ways of paying, drawn by us. */
export const offerIcons = [
  "card",
  "account",
  "bank",
  "cash",
  "code",
  "gift",
  "invoice",
  "parcel",
  "parts",
  "phone",
  "seal",
] as const;
export type OfferIcon = (typeof offerIcons)[number];

export const isOfferIcon = (value: unknown): value is OfferIcon => offerIcons.some((one) => one === value);

const usual: Record<MethodKind | OfflineKind, OfferIcon> = {
  card: "card",
  "account-wallet": "account",
  "code-wallet": "code",
  "device-wallet": "phone",
  instalments: "parts",
  "direct-debit": "bank",
  "bank-transfer": "bank",
  invoice: "invoice",
  "cash-on-delivery": "cash",
  cheque: "seal",
  own: "parcel",
};

/** The sign of a kind of method where its offer says nothing of its own. */
export const usualIcon = (kind: MethodKind | OfflineKind): OfferIcon => usual[kind];
