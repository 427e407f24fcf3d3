import en from "./en/offers-zones.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
