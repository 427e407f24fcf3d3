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

const placeNames: Record<ButtonPlace, string> = {
  product: "On a product’s page: it buys that product",
  basket: "In the basket",
  "small-basket": "In the small basket that opens on every page",
  checkout: "On the shop’s own checkout page",
};
const labelNames = (name: string): Record<ButtonSettings["label"], string> => ({
  buy: `Buy with ${name}`,
  pay: `Pay with ${name}`,
  name,
});
const shapeNames: Record<ButtonSettings["shape"], string> = {
  square: "Square corners",
  soft: "Soft corners",
  round: "Round ends",
};
const sizeNames: Record<ButtonSettings["size"], string> = {
  small: "Small, 40 px",
  usual: "Usual, 48 px",
  large: "Large, 56 px",
};
const lookNames: Record<ButtonSettings["lastLook"], string> = {
  none: "No: agreeing at the wallet orders it",
  here: "On a page of Zahlung’s",
  shop: "On a page of the shop’s",
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
      <legend>A button that pays at once</legend>
      {buttonPlaces.map((place) => (
        <CheckBox key={place} checked={set.places.includes(place)} onChange={(on) => toggle(place, on)}>
          {placeNames[place]}
        </CheckBox>
      ))}
      {set.places.length > 0 && (
        <>
          <Pairs>
            {choice("label", "What stands on it", labelNames(provider), terms.labels)}
            {choice("colour", "Its colour", colours, Object.keys(colours))}
            {choice("shape", "Its corners", shapeNames, terms.shapes)}
            {choice("size", "How high it is", sizeNames, buttonSizes)}
            {choice("lastLook", "A last look before the order", lookNames, lastLooks)}
          </Pairs>
          <ButtonLooks settings={set} terms={terms} text={labelNames(provider)[set.label]} />
        </>
      )}
      <Hint id={`${fieldId("button")}-hint`}>
        The shopper agrees at {provider}; address and contact come from there, and the shop is asked what
        delivery and tax come to. Nothing is charged that the shop has not made an order of. What {provider}{" "}
        allows of a button is what can be chosen.
      </Hint>
      <Wrong>{saysAt(problems, "button")}</Wrong>
    </FieldSet>
  );
}
