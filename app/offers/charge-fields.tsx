import type { OfferTerms } from "#core/offers/offer";
import { fieldId } from "../parts/error-summary";
import { FieldSet, Hint, Wrong } from "../parts/form";
import { SelectBox } from "../parts/select-box";
import { AmountBox, TextBox } from "../parts/text-box";
import { saysAt } from "../words/says-at";
import type { Draft } from "./draft";
import { type OfferPart, Pair } from "./fields";
import { t } from "../words/pages/offers";

/** What choosing the offer costs a shopper, or saves. */
export function ChargeFields({ draft, edit, problems, terms }: OfferPart & { terms: OfferTerms }) {
  const { charge } = draft;
  const put = (change: Partial<Draft["charge"]>) => edit({ charge: { ...charge, ...change } });
  return (
    <FieldSet id={fieldId("charge")}>
      <legend>{t("what-choosing-it-costs-or")}</legend>
      <Pair>
        <SelectBox
          label={t("the-shopper")}
          value={charge.kind}
          onChange={(chosen) => put({ kind: chosen as Draft["charge"]["kind"] })}
          choices={[
            { id: "none", name: t("pays-the-orders-total") },
            { id: "fee", name: t("pays-a-fee-on-top"), disabled: !terms.fees && charge.kind !== "fee" },
            { id: "discount", name: t("pays-less") },
          ]}
        />
        {charge.kind !== "none" && (
          <>
            <TextBox
              label={t("share-of-the-total-percent")}
              id={fieldId("charge.share")}
              value={charge.share}
              inputMode="decimal"
              maxLength={6}
              placeholder={t("none")}
              onChange={(share) => put({ share })}
              wrong={saysAt(problems, "charge.share")}
            />
            {terms.currencies.map((currency) => (
              <AmountBox
                key={currency}
                label={t("and-a-sum-in-currency", { currency })}
                id={fieldId(`charge.sums.${currency}`)}
                value={charge.sums[currency] ?? ""}
                placeholder={t("none")}
                currency={currency}
                onChange={(text) => put({ sums: { ...charge.sums, [currency]: text } })}
                wrong={saysAt(problems, `charge.sums.${currency}`)}
              />
            ))}
          </>
        )}
      </Pair>
      <Wrong>{saysAt(problems, "charge")}</Wrong>
      {!terms.fees && <Hint>{t("fees-are-refused-on-this")}</Hint>}
      {charge.kind !== "none" && <Hint>{t("it-stands-in-the-total")}</Hint>}
    </FieldSet>
  );
}
