import en from "./en/offers-alike.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
