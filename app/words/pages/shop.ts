import en from "./en/shop.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
