import type { OfferTerms } from "#core/offers/offer";
import { fieldId } from "../parts/error-summary";
import { FieldSet, Hint, Wrong } from "../parts/form";
import { SelectBox } from "../parts/select-box";
import { AmountBox, TextBox } from "../parts/text-box";
import { saysAt } from "../words/says-at";
import type { Draft } from "./draft";
import { type OfferPart, Pair } from "./fields";

/** What choosing the offer costs a shopper, or saves. */
export function ChargeFields({ draft, edit, problems, terms }: OfferPart & { terms: OfferTerms }) {
  const { charge } = draft;
  const put = (change: Partial<Draft["charge"]>) => edit({ charge: { ...charge, ...change } });
  return (
    <FieldSet id={fieldId("charge")}>
      <legend>What choosing it costs or saves</legend>
      <Pair>
        <SelectBox
          label="The shopper"
          value={charge.kind}
          onChange={(chosen) => put({ kind: chosen as Draft["charge"]["kind"] })}
          choices={[
            { id: "none", name: "pays the order’s total" },
            { id: "fee", name: "pays a fee on top", disabled: !terms.fees && charge.kind !== "fee" },
            { id: "discount", name: "pays less" },
          ]}
        />
        {charge.kind !== "none" && (
          <>
            <TextBox
              label="Share of the total, percent"
              id={fieldId("charge.share")}
              value={charge.share}
              inputMode="decimal"
              maxLength={6}
              placeholder="None"
              onChange={(share) => put({ share })}
              wrong={saysAt(problems, "charge.share")}
            />
            {terms.currencies.map((currency) => (
              <AmountBox
                key={currency}
                label={`And a sum, in ${currency}`}
                id={fieldId(`charge.sums.${currency}`)}
                value={charge.sums[currency] ?? ""}
                placeholder="None"
                currency={currency}
                onChange={(text) => put({ sums: { ...charge.sums, [currency]: text } })}
                wrong={saysAt(problems, `charge.sums.${currency}`)}
              />
            ))}
          </>
        )}
      </Pair>
      <Wrong>{saysAt(problems, "charge")}</Wrong>
      {!terms.fees && (
        <Hint>
          Fees are refused on this storefront: in the shop’s country the law forbids them for the usual ways
          of paying, or an owner has set it so. A discount is always possible.
        </Hint>
      )}
      {charge.kind !== "none" && (
        <Hint>It stands in the total before the shopper pays, and the shop is told it with the payment.</Hint>
      )}
    </FieldSet>
  );
}
