import type { CostLine } from "#core/costs/fees";
import type { MethodKind } from "#core/profiles/profile";
import { t } from "../words/pages/costs";

export const kindWords: Record<MethodKind, string> = {
  card: t("cards"),
  "account-wallet": t("account-wallets"),
  "code-wallet": t("code-wallets"),
  "device-wallet": t("device-wallets"),
  instalments: t("instalments"),
  "direct-debit": t("direct-debit"),
};

export const lineWords: Record<CostLine["what"], string> = {
  percent: t("share-of-each-payment"),
  fixed: t("fixed-part-of-each-payment"),
  bounds: t("least-and-greatest-fee"),
  foreign: t("cards-from-abroad"),
  conversion: t("conversion-to-the-settled-currency"),
  refunds: t("refunds"),
  returned: t("fees-that-come-back-with"),
  disputes: t("disputes"),
  monthly: t("each-month"),
  platform: t("the-shops-own-platform"),
};
