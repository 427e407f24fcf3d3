import en from "./en/payments-answers.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
