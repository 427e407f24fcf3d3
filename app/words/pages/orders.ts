import en from "./en/orders.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
