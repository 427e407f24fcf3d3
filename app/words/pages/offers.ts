import en from "./en/offers.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
