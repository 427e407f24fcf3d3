import en from "./en/offers-baskets.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
