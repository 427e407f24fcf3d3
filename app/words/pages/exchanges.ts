import en from "./en/exchanges.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
