import { type NoticePlace, noticePlaces } from "#core/offers/notices";
import { CheckBox } from "../parts/check-box";
import { fieldId } from "../parts/error-summary";
import { FieldSet, Hint, Wrong } from "../parts/form";
import { saysAt } from "../words/says-at";
import type { OfferPart } from "./fields";

const placeNames: Record<NoticePlace, string> = {
  home: "On the shop’s first page",
  product: "Beside the price of a product",
  basket: "In the basket",
  checkout: "On the shop’s own checkout page",
};

/** On which of the shop's own pages it is told what paying in parts would come to. */
export function NoticeFields({ draft, edit, problems, provider }: OfferPart & { provider: string }) {
  const { notices } = draft;
  const toggle = (place: NoticePlace, on: boolean) =>
    edit({ notices: noticePlaces.filter((one) => (one === place ? on : notices.includes(one))) });
  return (
    <FieldSet id={fieldId("notices")} aria-describedby={`${fieldId("notices")}-hint`}>
      <legend>Where instalments are told of</legend>
      {noticePlaces.map((place) => (
        <CheckBox key={place} checked={notices.includes(place)} onChange={(on) => toggle(place, on)}>
          {placeNames[place]}
        </CheckBox>
      ))}
      <Hint id={`${fieldId("notices")}-hint`}>
        {provider} says what the smallest payment would be, the total, the rate and what the law wants to be
        read. It is told to shoppers who are shown this offer, and the shop puts it on its page.
      </Hint>
      <Wrong>{saysAt(problems, "notices")}</Wrong>
    </FieldSet>
  );
}
