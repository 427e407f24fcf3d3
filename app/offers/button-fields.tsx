import {
  buttonPlaces,
  type ButtonPlace,
  buttonSizes,
  type ButtonSettings,
  type ButtonTerms,
  isAllowed,
  lastLooks,
  plainButton,
} from "#core/buttons/button";
import { CheckBox } from "../parts/check-box";
import { fieldId } from "../parts/error-summary";
import { FieldSet, Hint, Wrong } from "../parts/form";
import { SelectBox } from "../parts/select-box";
import { Pairs } from "../parts/sheet";
import { saysAt } from "../words/says-at";
import { ButtonLooks } from "./button-looks";
import type { OfferPart } from "./fields";
import { t } from "../words/pages/offers";

const placeNames: Record<ButtonPlace, string> = {
  product: t("on-a-products-page-it"),
  basket: t("in-the-basket"),
  "small-basket": t("in-the-small-basket-that"),
  checkout: t("on-the-shops-own-checkout"),
};
const labelNames = (name: string): Record<ButtonSettings["label"], string> => ({
  buy: t("buy-with-name", { name }),
  pay: t("pay-with-name", { name }),
  name,
});
const shapeNames: Record<ButtonSettings["shape"], string> = {
  square: t("square-corners"),
  soft: t("soft-corners"),
  round: t("round-ends"),
};
const sizeNames: Record<ButtonSettings["size"], string> = {
  small: t("small-40-px"),
  usual: t("usual-48-px"),
  large: t("large-56-px"),
};
const lookNames: Record<ButtonSettings["lastLook"], string> = {
  none: t("no-agreeing-at-the-wallet"),
  here: t("on-a-page-of-zahlungs"),
  shop: t("on-a-page-of-the"),
};

/** Where an offer stands as a button that pays at once, how it looks, and whether the shopper looks once more before the order. */
export function ButtonFields({
  draft,
  edit,
  problems,
  provider,
  terms,
}: OfferPart & { provider: string; terms: ButtonTerms }) {
  const { button } = draft;
  // A provider that takes a colour away leaves what was set with none that it allows: then it is as it begins.
  const set =
    button && isAllowed(button, terms) ? button : { ...plainButton(terms), places: button?.places ?? [] };
  const put = (change: Partial<ButtonSettings>) => edit({ button: { ...set, ...change } });
  const toggle = (place: ButtonPlace, on: boolean) =>
    put({ places: buttonPlaces.filter((one) => (one === place ? on : set.places.includes(one))) });
  const choice = <N extends "label" | "shape" | "size" | "colour" | "lastLook">(
    name: N,
    title: string,
    names: Readonly<Record<string, string>>,
    allowed: readonly string[],
  ) => (
    <SelectBox
      label={title}
      value={set[name]}
      onChange={(chosen) => put({ [name]: chosen as ButtonSettings[N] })}
      choices={allowed.map((one) => ({ id: one, name: names[one] ?? one }))}
    />
  );
  const colours = Object.fromEntries(terms.colours.map(({ id, label }) => [id, label]));
  return (
    <FieldSet id={fieldId("button")} aria-describedby={`${fieldId("button")}-hint`}>
      <legend>{t("a-button-that-pays-at")}</legend>
      {buttonPlaces.map((place) => (
        <CheckBox key={place} checked={set.places.includes(place)} onChange={(on) => toggle(place, on)}>
          {placeNames[place]}
        </CheckBox>
      ))}
      {set.places.length > 0 && (
        <>
          <Pairs>
            {choice("label", t("what-stands-on-it"), labelNames(provider), terms.labels)}
            {choice("colour", t("its-colour"), colours, Object.keys(colours))}
            {choice("shape", t("its-corners"), shapeNames, terms.shapes)}
            {choice("size", t("how-high-it-is"), sizeNames, buttonSizes)}
            {choice("lastLook", t("a-last-look-before-the"), lookNames, lastLooks)}
          </Pairs>
          <ButtonLooks settings={set} terms={terms} text={labelNames(provider)[set.label]} />
        </>
      )}
      <Hint id={`${fieldId("button")}-hint`}>{t("the-shopper-agrees-at-provider", { provider })}</Hint>
      <Wrong>{saysAt(problems, "button")}</Wrong>
    </FieldSet>
  );
}
