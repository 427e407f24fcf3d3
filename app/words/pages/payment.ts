import en from "./en/payment.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
