import type { CostLine } from "#core/costs/fees";
import type { MethodKind } from "#core/profiles/profile";

export const kindWords: Record<MethodKind, string> = {
  card: "Cards",
  "account-wallet": "Account wallets",
  "code-wallet": "Code wallets",
  "device-wallet": "Device wallets",
  instalments: "Instalments",
  "direct-debit": "Direct debit",
};

export const lineWords: Record<CostLine["what"], string> = {
  percent: "Share of each payment",
  fixed: "Fixed part of each payment",
  bounds: "Least and greatest fee",
  foreign: "Cards from abroad",
  conversion: "Conversion to the settled currency",
  refunds: "Refunds",
  returned: "Fees that come back with refunds",
  disputes: "Disputes",
  monthly: "Each month",
  platform: "The shop’s own platform",
};
