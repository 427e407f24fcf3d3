import { type NoticePlace, noticePlaces } from "#core/offers/notices";
import { CheckBox } from "../parts/check-box";
import { fieldId } from "../parts/error-summary";
import { FieldSet, Hint, Wrong } from "../parts/form";
import { saysAt } from "../words/says-at";
import type { OfferPart } from "./fields";
import { t } from "../words/pages/offers";

const placeNames: Record<NoticePlace, string> = {
  home: t("on-the-shops-first-page"),
  product: t("beside-the-price-of-a"),
  basket: t("in-the-basket"),
  checkout: t("on-the-shops-own-checkout"),
};

/** On which of the shop's own pages it is told what paying in parts would come to. */
export function NoticeFields({ draft, edit, problems, provider }: OfferPart & { provider: string }) {
  const { notices } = draft;
  const toggle = (place: NoticePlace, on: boolean) =>
    edit({ notices: noticePlaces.filter((one) => (one === place ? on : notices.includes(one))) });
  return (
    <FieldSet id={fieldId("notices")} aria-describedby={`${fieldId("notices")}-hint`}>
      <legend>{t("where-instalments-are-told-of")}</legend>
      {noticePlaces.map((place) => (
        <CheckBox key={place} checked={notices.includes(place)} onChange={(on) => toggle(place, on)}>
          {placeNames[place]}
        </CheckBox>
      ))}
      <Hint id={`${fieldId("notices")}-hint`}>{t("provider-says-what-the-smallest", { provider })}</Hint>
      <Wrong>{saysAt(problems, "notices")}</Wrong>
    </FieldSet>
  );
}
