import { moneyText, parseTyped } from "#core/money/money";
import { useStorefront } from "../frame/use-storefront";
import { Hint } from "./form";
import { t } from "../words/pages/parts";

/** Under an amount that was typed so that it could be meant otherwise: how it was read. */
export function ReadAs({ text, currency }: { text: string; currency: string }) {
  const { locale } = useStorefront();
  const read = parseTyped(text, currency, locale);
  return read.ok && read.unclear ? (
    <Hint>{t("read-as-money", { money: moneyText(read.money, locale) })}</Hint>
  ) : null;
}
