import en from "./en/offers-answers.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
