import en from "./en/orders-answers.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
