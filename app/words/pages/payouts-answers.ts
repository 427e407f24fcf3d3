import en from "./en/payouts-answers.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
