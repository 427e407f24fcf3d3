import en from "./en/offers-matrix.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
