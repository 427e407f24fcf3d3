import en from "./en/offers-stages.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
