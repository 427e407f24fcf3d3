import en from "./en/payments.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
