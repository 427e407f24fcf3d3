import en from "./en/offers-order.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
