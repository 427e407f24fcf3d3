import en from "./en/offers-told.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
