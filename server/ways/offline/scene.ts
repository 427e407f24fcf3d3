import { eq } from "drizzle-orm";
import { dayText, shopperLocale } from "#core/orders/view";
import { type Money, moneyText } from "#core/money/money";
import { filledIn, type RichText } from "#core/rich-text";
import { ibanWords } from "#core/ways/offline/bank";
import { isOfflineKind } from "#core/ways/offline/kinds";
import type { PlacedScene } from "#core/ways/offline/placed";
import { type OfflineTerms } from "#core/ways/offline/terms";
import { transferCode } from "#core/ways/offline/transfer-code";
import { slipScene } from "./slips";
import { scanCode } from "../../checkouts/scan-code";
import type { Checkout, Payment } from "../../database/rows";
import { offerRevisions } from "../../database/schema";
import type { Runtime } from "../../runtime";

/** What stands in the places of instructions. */
export const placesOf = (
  { orderReference, providerRef, currency, dueAt }: Payment,
  left: number,
  { account }: OfflineTerms,
  locale: string,
): Record<string, string> => ({
  order: orderReference,
  total: moneyText({ amount: left, currency }, locale),
  ...(dueAt !== null && { due: dayText(dueAt, locale) }),
  ...(account?.iban && { account: ibanWords(account.iban) }),
  reference: providerRef ?? orderReference,
});

/** Instructions in the shopper's language, else in the first that has some, with what belongs into their places. */
export function instructionsFor(
  { instructions }: OfflineTerms,
  language: string,
  values: Readonly<Record<string, string>>,
): RichText | null {
  const base = language.split("-")[0] ?? language;
  const text = instructions[language] ?? instructions[base] ?? Object.values(instructions)[0];
  return text ? filledIn(text, values) : null;
}

export async function placedScene(
  rt: Runtime,
  { order }: Checkout,
  payment: Payment,
): Promise<PlacedScene | { name: "waiting" }> {
  const [revision] = await rt.db.orm
    .select({ document: offerRevisions.document })
    .from(offerRevisions)
    .where(eq(offerRevisions.id, payment.revisionId));
  const terms = revision?.document.offline;
  const { methodId: kind, amount, captured, currency, providerRef, orderReference } = payment;
  if (!terms || !isOfflineKind(kind)) return { name: "waiting" };
  const left: Money = { amount: Math.max(0, amount - captured), currency };
  const locale = shopperLocale(order);
  const reference = providerRef ?? orderReference;
  const { account } = terms;
  const code = account?.iban ? transferCode(account, left, reference) : null;
  return {
    name: "placed",
    kind,
    instructions: instructionsFor(terms, order.language, placesOf(payment, left.amount, terms, locale)),
    transfer: account?.iban
      ? { ...account, iban: ibanWords(account.iban), reference, code: code ? scanCode(code) : null }
      : null,
    phone: terms.phone ?? null,
    slip: terms.slip ? await slipScene(rt, payment.id, terms.slip, order.language) : null,
    left,
    due: payment.dueAt,
  };
}
