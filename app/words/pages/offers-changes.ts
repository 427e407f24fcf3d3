import en from "./en/offers-changes.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
