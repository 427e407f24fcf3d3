import type { ProfileMethod } from "../profiles/profile";

/** The pages of a shop on which a button can stand that pays at once. */
export const buttonPlaces = ["product", "basket", "small-basket", "checkout"] as const;
export type ButtonPlace = (typeof buttonPlaces)[number];
export const isButtonPlace = (value: unknown): value is ButtonPlace =>
  buttonPlaces.some((one) => one === value);

export const buttonSizes = ["small", "usual", "large"] as const;
export type ButtonSize = (typeof buttonSizes)[number];

/** Where a shopper looks once more at what was agreed to at the wallet, before anything is ordered. */
export const lastLooks = ["none", "here", "shop"] as const;
export type LastLook = (typeof lastLooks)[number];

/** What a provider allows of a button. */
export type ButtonTerms = NonNullable<ProfileMethod["button"]>;

/** Where an offer stands as a button, how that looks, and what comes before the order. */
export interface ButtonSettings {
  places: ButtonPlace[];
  label: ButtonTerms["labels"][number];
  shape: ButtonTerms["shapes"][number];
  size: ButtonSize;
  /** By its id in the profile. */
  colour: string;
  lastLook: LastLook;
}

/** A button as it begins: nowhere yet, and as the provider names it first. */
export const plainButton = ({ labels, shapes, colours }: ButtonTerms): ButtonSettings => ({
  places: [],
  label: labels[0] ?? "buy",
  shape: shapes[0] ?? "square",
  size: "usual",
  colour: colours[0]?.id ?? "",
  lastLook: "here",
});

/** Whether a value from outside is shaped like the settings of a button; what its provider allows is another question. */
export function isButton(value: unknown): value is ButtonSettings {
  if (typeof value !== "object" || value === null || Array.isArray(value)) return false;
  const { places, label, shape, size, colour, lastLook, ...rest } = value as Record<string, unknown>;
  return (
    Object.keys(rest).length === 0 &&
    Array.isArray(places) &&
    places.length > 0 &&
    places.every(isButtonPlace) &&
    new Set(places).size === places.length &&
    [label, shape, colour].every((one) => typeof one === "string" && one.length <= 40) &&
    buttonSizes.some((one) => one === size) &&
    lastLooks.some((one) => one === lastLook)
  );
}

/** Whether a provider allows a button as it is set. */
export const isAllowed = (
  { label, shape, colour }: ButtonSettings,
  { labels, shapes, colours }: ButtonTerms,
): boolean => labels.includes(label) && shapes.includes(shape) && colours.some((one) => one.id === colour);

/** A button in a shopper's words, as a page draws it. */
export interface ButtonView {
  offer: string;
  language: string;
  direction: "ltr" | "rtl";
  text: string;
  /** What is said where it could not be begun. */
  trouble: string;
  shape: ButtonSettings["shape"];
  size: ButtonSize;
  ground: string;
  ink: string;
}

/** What a button is made of: how the offer has it stand, and how its provider lets it look. */
export interface ButtonFacts {
  offer: string;
  name: string;
  settings: ButtonSettings;
  terms: ButtonTerms;
}

/** The words and colours of a button, in which `text` and `trouble` are said in the shopper's language. */
export function buttonView(
  { offer, settings, terms }: ButtonFacts,
  words: Pick<ButtonView, "language" | "direction" | "text" | "trouble">,
): ButtonView {
  const colour = terms.colours.find(({ id }) => id === settings.colour) ?? terms.colours[0];
  return {
    ...{ offer, ...words, shape: settings.shape, size: settings.size },
    ...{ ground: colour?.ground ?? "#ffffff", ink: colour?.ink ?? "#000000" },
  };
}
