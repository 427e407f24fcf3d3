import { isNoticePlace, type NoticePlace } from "../offers/notices";
import { type ButtonPlace, isButtonPlace } from "./button";

/** The pages of a shop on which something of Zahlung's can stand. */
export const embedPlaces = [
  "home",
  "product",
  "basket",
  "small-basket",
  "checkout",
] as const satisfies readonly (NoticePlace | ButtonPlace)[];
export type EmbedPlace = (typeof embedPlaces)[number];
export const isEmbedPlace = (value: unknown): value is EmbedPlace =>
  isNoticePlace(value) || isButtonPlace(value);
