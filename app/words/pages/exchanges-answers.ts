import en from "./en/exchanges-answers.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
