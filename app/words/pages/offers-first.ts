import en from "./en/offers-first.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
