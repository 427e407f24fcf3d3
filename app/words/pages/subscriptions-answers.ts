import en from "./en/subscriptions-answers.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
